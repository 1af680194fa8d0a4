import { Link } from "react-router";
import type { Schemas } from "../../../api/client";
import { Empty } from "../../../components/Empty";
import { ErrorNote } from "../../../components/ErrorNote";
import Mark from "../../../components/Mark";
import { count, day, sentence } from "../../../lib/format";
import type { Outcome } from "../../../lib/outcome";
import { useChecks } from "../../../queries/catalogue";
import { useChanges } from "../../../queries/desk";

type Change = Schemas["Item"];

interface Props {
  params: URLSearchParams;
  onParam: (key: string, value: string) => void;
}

/** What changed where no check did: kind → what it is called. */
const RUNS: Record<string, string> = {
  new: "new businesses",
  gone: "businesses no longer seen",
  listing: "what listings say",
};
const WAYS: [string, string, (change: Change) => boolean][] = [
  ["", "all changes", () => true],
  ["worse", "only worse", ({ kind, after }) => kind === "audit" && after === "gap"],
  [
    "better",
    "only better",
    ({ kind, before, after }) => kind === "audit" && before === "gap" && after === "ok",
  ],
];

const topicOf = (change: Change): string => (change.kind === "audit" ? change.about : change.kind);

/** What changed between audits and between runs, of all businesses, the latest first. */
export default function Feed({ params, onParam }: Props) {
  const query = useChanges();
  const checks = useChecks().data ?? [];
  const about = params.get("about") ?? "";
  const way = WAYS.find(([id]) => id === (params.get("way") ?? "")) ?? WAYS[0];
  if (query.error) return <ErrorNote error={query.error} />;
  const changes = query.data?.items ?? [];
  const present = new Set(changes.map(topicOf));
  const shown = changes.filter((change) => (!about || topicOf(change) === about) && way?.[2](change));
  return (
    <section aria-label="What changed" className="flex min-w-0 flex-1 flex-col">
      <div className="flex items-baseline gap-4 border-b border-line bg-paper px-4 py-2">
        <select
          aria-label="About"
          value={about}
          onChange={(event) => onParam("about", event.target.value)}
          className="box"
        >
          <option value="">about anything</option>
          {Object.entries(RUNS)
            .filter(([kind]) => present.has(kind))
            .map(([kind, label]) => (
              <option key={kind} value={kind}>
                {label}
              </option>
            ))}
          {checks
            .filter((check) => present.has(check.id))
            .map((check) => (
              <option key={check.id} value={check.id}>
                {check.title}
              </option>
            ))}
        </select>
        <select
          aria-label="Which way"
          value={way?.[0]}
          onChange={(event) => onParam("way", event.target.value)}
          className="box"
        >
          {WAYS.map(([id, label]) => (
            <option key={id} value={id}>
              {label}
            </option>
          ))}
        </select>
        <span className="text-soft">
          {count(shown.length)} of the latest {count(changes.length)}
          {(query.data?.total ?? 0) > changes.length && ` (${count(query.data?.total ?? 0)} in all)`}
        </span>
      </div>
      {shown.length === 0 ? (
        <Empty title="No changes yet">
          Run a sweep or audit again later to see what appeared, broke or disappeared.
        </Empty>
      ) : (
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard
        <ul aria-label="Changes" tabIndex={0} className="min-h-0 flex-1 overflow-y-auto bg-sheet px-4 pb-8">
          {shown.map((change) => (
            <li
              key={`${change.kind}${change.at}${change.business_id}${change.about}`}
              className="flex items-center gap-3 border-b border-faint py-1"
            >
              <What change={change} />
              <Link
                to={`/businesses/${change.business_id}`}
                className="w-56 shrink-0 truncate font-medium hover:underline"
              >
                {change.name}
              </Link>
              <span className="w-24 shrink-0 truncate text-soft">{change.town}</span>
              <span className="min-w-0 flex-1">{sentence(change.text)}</span>
              <span className="text-soft">{day(change.at)}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** From which outcome to which; for what runs found, the kind of it. */
function What({ change }: { change: Change }) {
  if (change.kind !== "audit")
    return (
      <span className={`w-10 shrink-0 text-xs ${change.kind === "gone" ? "text-acorn" : "text-leaf-dark"}`}>
        {change.kind}
      </span>
    );
  return (
    <span
      className="flex w-10 shrink-0 items-center gap-0.5"
      title={`${change.before}, then ${change.after}`}
    >
      <Mark outcome={change.before as Outcome} />
      <span className="text-soft">→</span>
      <Mark outcome={change.after as Outcome} />
    </span>
  );
}
