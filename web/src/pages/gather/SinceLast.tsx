import { Link } from "react-router";
import type { Run, Schemas } from "../../api/client";
import { count } from "../../lib/format";
import { useComparison } from "../../queries/gathering";
import { useRuns } from "../../queries/sweeps";

type Change = Schemas["ChangeResponse"];
const SHOWN = 40;
const KINDS = [
  ["new", "new"],
  ["gone", "gone"],
  ["changed", "changed"],
] as const;

/** What is new, gone and changed since the run before this one. */
export default function SinceLast({ run }: { run: Run }) {
  const before = useRuns().data?.find(
    (item) => item.sweep_id === run.sweep_id && item.id < run.id && item.state === "done",
  );
  const found = useComparison(run.id, run.state === "done" ? before?.id : undefined).data;
  if (!found) return null;
  return (
    <section aria-label="Since the previous run" className="mt-4">
      <h2 className="border-b border-line pb-0.5 text-[14px]">Since the previous run</h2>
      {KINDS.map(([kind, word]) => {
        const changes = found.changes.filter((change) => change.kind === kind);
        const total = found.counts[kind] ?? 0;
        return (
          <details key={kind} className="border-b border-faint py-0.5" open={false}>
            <summary className={total ? "cursor-pointer" : "text-soft"}>
              {count(total)} {word}
            </summary>
            <ul className="pl-3">
              {changes.slice(0, SHOWN).map((change) => (
                <li key={`${change.business}${change.field}`}>
                  <Link className="hover:underline" to={`/businesses?run=${run.id}&b=${change.business}`}>
                    {change.name}
                  </Link>
                  <span className="text-soft">, {change.town}</span>
                  {change.field && <span className="block text-soft">{sentence(change)}</span>}
                </li>
              ))}
              {changes.length > SHOWN && (
                <li className="text-soft">
                  {SHOWN} of {count(changes.length)} are shown.
                </li>
              )}
            </ul>
          </details>
        );
      })}
    </section>
  );
}

const sentence = (change: Change): string =>
  `${change.field}: ${change.before || "nothing"} → ${change.after || "nothing"}`;
