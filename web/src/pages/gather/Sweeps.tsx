import { Link, useNavigate } from "react-router";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import May from "../../components/May";
import { sizeOf } from "../../lib/areas";
import { count, when } from "../../lib/format";
import { useTitle } from "../../lib/useTitle";
import { useTrades } from "../../queries/catalogue";
import { usePossibleDuplicates } from "../../queries/gathering";
import { useDismissNotices, useNotices, useSchedules } from "../../queries/schedules";
import { useRunAgain, useRuns, useSweeps } from "../../queries/sweeps";
import ScheduleBox from "./ScheduleBox";

const STATE_WORDS: Record<string, string> = {
  running: "running",
  done: "finished",
  stopped: "paused",
  failed: "failed",
};

const NOTICES_SHOWN = 5;
const ASIDE = [
  ["/sweeps/duplicates", "Possible duplicates"],
  ["/sweeps/files", "Import a list"],
  ["/sweeps/directories", "Directories"],
  ["/sweeps/services", "JSON services"],
  ["/sweeps/relationships", "Clients & do-not-contact"],
  ["/sweeps/verifier", "Verifier"],
] as const;

export default function Sweeps() {
  const doubts = usePossibleDuplicates().data?.total;
  const sweeps = useSweeps();
  const runs = useRuns();
  const trades = useTrades().data ?? [];
  const again = useRunAgain();
  const schedules = useSchedules().data ?? [];
  const notices = useNotices().data ?? [];
  const putAway = useDismissNotices();
  const navigate = useNavigate();
  useTitle("Sweeps");
  return (
    <div className="h-full overflow-y-auto px-8 py-5">
      <div className="flex items-center gap-5">
        <h1 className="text-xl">Sweeps</h1>
        <May what="people">
          {ASIDE.map(([to, label]) => (
            <Link key={to} to={to} className="text-leaf-dark underline">
              {label}
              {to === "/sweeps/duplicates" && doubts ? ` (${count(doubts)})` : ""}
            </Link>
          ))}
        </May>
        <span className="flex-1" />
        <May what="spend">
          <Link
            to="/sweeps/new"
            className="rounded-[3px] bg-leaf px-3 py-1.5 font-medium text-white hover:bg-leaf-dark"
          >
            Plan a sweep
          </Link>
        </May>
      </div>
      {notices.length > 0 && (
        <section aria-label="Notices" className="mt-3 border border-line bg-sheet px-3 py-1.5">
          <ul>
            {notices.slice(0, NOTICES_SHOWN).map((notice) => (
              <li key={notice.id} className={notice.trouble ? "text-alarm" : ""}>
                <span className="text-soft">{when(notice.at)}</span>{" "}
                {notice.run_id ? (
                  <Link className="hover:underline" to={`/sweeps/runs/${notice.run_id}`}>
                    {notice.text}
                  </Link>
                ) : (
                  notice.text
                )}
              </li>
            ))}
          </ul>
          <Button look="quiet" onClick={() => putAway.mutate()}>
            Dismiss{notices.length > 1 && ` all ${notices.length}`}
          </Button>
        </section>
      )}
      <ErrorNote error={sweeps.error ?? runs.error ?? again.error} />
      {sweeps.data?.length === 0 && (
        <Empty title="Nothing swept yet">
          A sweep gathers every business of the trades and the area you choose.{" "}
          <Link className="text-leaf-dark underline" to="/sweeps/new">
            Plan one
          </Link>
          .
        </Empty>
      )}
      {(sweeps.data?.length ?? 0) > 0 && (
        <table className="mt-4 w-full bg-sheet">
          <thead className="text-left text-soft">
            <tr className="border-b border-line">
              {["Sweep", "Trades", "Territory", "Last run", "In store", "Schedule"].map((head) => (
                <th key={head} scope="col" className="whitespace-nowrap px-3 py-1.5 font-normal">
                  {head}
                </th>
              ))}
              <th scope="col" className="px-3 py-1.5">
                <span className="sr-only">Actions</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {sweeps.data?.map((sweep) => {
              const run = runs.data?.find((item) => item.id === sweep.last_run);
              const names = sweep.plan.trades.map(
                (id) => trades.find((trade) => trade.id === id)?.plural ?? id,
              );
              return (
                <tr key={sweep.id} className="border-b border-faint align-top">
                  <td className="px-3 py-2 font-medium">
                    {run ? (
                      <Link className="hover:underline" to={`/sweeps/runs/${run.id}`}>
                        {sweep.name}
                      </Link>
                    ) : (
                      sweep.name
                    )}
                  </td>
                  <td className="max-w-72 px-3 py-2">{names.join(", ")}</td>
                  <td className="px-3 py-2">
                    {sweep.plan.areas.length > 0
                      ? sweep.plan.areas
                          .map((area) => `${area.name || "a point"}, ${sizeOf(area)}`)
                          .join("; ")
                      : "a list of your own"}
                  </td>
                  <td className="px-3 py-2">
                    {run ? (
                      <>
                        <span className={run.state === "failed" ? "font-semibold text-alarm" : ""}>
                          {STATE_WORDS[run.state] ?? run.state}
                        </span>
                        , <span className="whitespace-nowrap">{when(run.ended_at ?? run.started_at)}</span>
                        {run.why && <span className="block text-soft">{run.why}</span>}
                      </>
                    ) : (
                      "never"
                    )}
                  </td>
                  <td className="px-3 py-2">{run ? count(run.held) : "–"}</td>
                  <td className="px-3 py-2">
                    <ScheduleBox
                      key={schedules.some((item) => item.sweep_id === sweep.id) ? "kept" : "none"}
                      sweep={sweep.id}
                      kept={schedules.find((item) => item.sweep_id === sweep.id)}
                    />
                  </td>
                  <td className="px-3 py-2 text-right whitespace-nowrap">
                    {sweep.plan.areas.length > 0 && (
                      <Link
                        className="mr-3 text-leaf-dark hover:underline"
                        to={`/sweeps/new?sweep=${sweep.id}`}
                      >
                        Edit
                      </Link>
                    )}
                    {run && (
                      <Link className="mr-3 text-leaf-dark hover:underline" to={`/businesses?run=${run.id}`}>
                        View businesses
                      </Link>
                    )}
                    <Button
                      disabled={run?.state === "running" || again.isPending}
                      onClick={() =>
                        again.mutate(sweep.id, {
                          onSuccess: (started) => navigate(`/sweeps/runs/${started.run_id}`),
                        })
                      }
                    >
                      Run now
                    </Button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </div>
  );
}
