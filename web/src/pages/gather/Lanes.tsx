import type { Run } from "../../api/client";
import { Button } from "../../components/Button";
import { count } from "../../lib/format";
import { useRunCommand } from "../../queries/sweeps";

/** One line a source: how far it is, what it brought, and its failed questions to be tried alone. */
export default function Lanes({ run }: { run: Run }) {
  const command = useRunCommand(run.id);
  return (
    <section aria-label="Sources" className="mt-4">
      <h2 className="border-b border-line pb-0.5 text-[14px]">Sources</h2>
      <ul>
        {run.lanes.map((lane) => {
          const known = lane.done + lane.left + lane.failed + lane.skipped;
          return (
            <li key={lane.source} className="border-b border-faint py-1">
              <span className="flex items-baseline gap-2">
                <span className="min-w-0 flex-1 truncate font-medium">{lane.title}</span>
                <span>{count(lane.rows)} rows</span>
                <span className="w-28 text-right text-soft">
                  {count(lane.done)} of {count(known)} asked
                </span>
              </span>
              <span
                role="progressbar"
                aria-label={`${lane.title}: questions asked`}
                aria-valuenow={known ? Math.round((100 * lane.done) / known) : 0}
                aria-valuemin={0}
                aria-valuemax={100}
                className="mt-0.5 flex h-1 bg-faint"
              >
                <span className="bg-leaf" style={{ width: `${known ? (100 * lane.done) / known : 0}%` }} />
                <span className="bg-alarm" style={{ width: `${known ? (100 * lane.failed) / known : 0}%` }} />
              </span>
              {lane.failed > 0 && (
                <span className="mt-0.5 flex items-center gap-2">
                  <span className="text-alarm">
                    {count(lane.failed)} {lane.failed === 1 ? "question" : "questions"} failed
                  </span>
                  {run.state !== "running" && (
                    <Button
                      look="quiet"
                      disabled={command.isPending}
                      onClick={() => command.mutate({ again: lane.source })}
                    >
                      Retry only these
                    </Button>
                  )}
                </span>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
