import { Link } from "react-router";
import { BOX, Empty, ErrorNote, sentence } from "../../components/Bits";
import { Mark } from "../../components/Marks";
import { count, day } from "../../lib/format";
import type { Outcome } from "../../lib/outcome";
import { useChecks } from "../../queries/catalogue";
import { useEvents } from "../../queries/desk";

interface Props {
  params: URLSearchParams;
  onParam: (key: string, value: string) => void;
}

const WAYS: [string, string, (before: string, after: string) => boolean][] = [
  ["", "all changes", () => true],
  ["worse", "only for the worse", (_, after) => after === "gap"],
  ["better", "only for the better", (before, after) => before === "gap" && after === "ok"],
];

/** What audits saw change, of all businesses, the latest first. */
export default function Feed({ params, onParam }: Props) {
  const query = useEvents();
  const checks = useChecks().data ?? [];
  const about = params.get("about") ?? "";
  const way = WAYS.find(([id]) => id === (params.get("way") ?? "")) ?? WAYS[0];
  if (query.error) return <ErrorNote error={query.error} />;
  const events = query.data ?? [];
  const present = [...new Set(events.map((event) => event.check_id))];
  const shown = events.filter(
    (event) => (!about || event.check_id === about) && way?.[2](event.before, event.after),
  );
  return (
    <section aria-label="What changed between audits" className="flex min-w-0 flex-1 flex-col">
      <div className="flex items-baseline gap-4 border-b border-line bg-paper px-4 py-2">
        <select
          aria-label="About"
          value={about}
          onChange={(event) => onParam("about", event.target.value)}
          className={BOX}
        >
          <option value="">about anything</option>
          {checks
            .filter((check) => present.includes(check.id))
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
          className={BOX}
        >
          {WAYS.map(([id, label]) => (
            <option key={id} value={id}>
              {label}
            </option>
          ))}
        </select>
        <span className="text-soft">
          {count(shown.length)} of the latest {count(events.length)}
        </span>
      </div>
      {shown.length === 0 ? (
        <Empty title="No change seen">
          Audit businesses again after a while: what appeared, broke or vanished is told here.
        </Empty>
      ) : (
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard
        <ul aria-label="Changes" tabIndex={0} className="min-h-0 flex-1 overflow-y-auto bg-sheet px-4 pb-8">
          {shown.map((event) => (
            <li key={event.id} className="flex items-center gap-3 border-b border-faint py-1">
              <span className="flex items-center gap-0.5" title={`${event.before}, then ${event.after}`}>
                <Mark outcome={event.before as Outcome} />
                <span className="text-soft">→</span>
                <Mark outcome={event.after as Outcome} />
              </span>
              <Link
                to={`/businesses/${event.business_id}`}
                className="w-56 shrink-0 truncate font-medium hover:underline"
              >
                {event.name}
              </Link>
              <span className="w-24 shrink-0 truncate text-soft">{event.town}</span>
              <span className="min-w-0 flex-1">{sentence(event.text)}</span>
              <span className="text-soft">{day(event.at)}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
