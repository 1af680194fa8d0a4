import type { ReactNode } from "react";
import { Link, useParams } from "react-router";
import type { Run } from "../../api/client";
import { Bar } from "../../components/Bar";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import GroundMap from "../../components/GroundMap";
import { Loading } from "../../components/Loading";
import { colour } from "../../lib/colours";
import { count, duration, sentence, when } from "../../lib/format";
import { useTitle } from "../../lib/useTitle";
import { useRun, useRunCommand } from "../../queries/sweeps";
import Coverage from "./Coverage";
import Growth from "./Growth";
import Lanes from "./Lanes";
import RunLayers from "./RunLayers";
import SinceLast from "./SinceLast";

export default function WatchRun() {
  const id = Number(useParams().id);
  const query = useRun(id);
  const run = query.data;
  useTitle(run?.sweep ?? "Run");
  if (query.error) return <ErrorNote error={query.error} />;
  if (!run) return <Loading className="p-6" />;
  return (
    <div className="flex h-full">
      <section
        aria-label="Progress"
        className="w-[380px] shrink-0 overflow-y-auto border-r border-line bg-sheet px-4 py-3"
      >
        <Link to="/sweeps" className="text-leaf-dark hover:underline">
          ← Sweeps
        </Link>
        <h1 className="mt-1 text-lg leading-tight">{run.sweep}</h1>
        <Standing run={run} />
        <Counts run={run} />
        <Lanes run={run} />
        <Coverage run={run} />
        <SinceLast run={run} />
        <Growth run={run} />
        <Notes run={run} />
      </section>
      <div className="relative min-w-0 flex-1">
        <GroundMap centre={middle(run)} zoom={11} label="The run on the map">
          <RunLayers run={run} />
        </GroundMap>
        <ul className="absolute right-3 bottom-3 z-[500] border border-line bg-sheet/95 px-2.5 py-1.5 text-xs">
          <LegendLine colour={colour("acorn")} text="full: split in four" />
          <LegendLine colour={colour("leaf")} text="read to its end" />
          <LegendLine colour={colour("mark-ok")} text="waiting" dashed />
        </ul>
      </div>
    </div>
  );
}

function middle(run: Run): [number, number] {
  const [south, west, north, east] = run.plan.bounds ?? [0, 0, 0, 0];
  return [(Number(south) + Number(north)) / 2, (Number(west) + Number(east)) / 2];
}

function LegendLine({ colour, text, dashed }: { colour: string; text: string; dashed?: boolean }) {
  return (
    <li className="flex items-center gap-1.5">
      <span className="h-2.5 w-3.5" style={{ border: `1.5px ${dashed ? "dashed" : "solid"} ${colour}` }} />{" "}
      {text}
    </li>
  );
}

const WORDS: Record<string, string> = {
  running: "Running",
  done: "Finished",
  stopped: "Paused",
  failed: "Failed",
};

function Standing({ run }: { run: Run }) {
  const command = useRunCommand(run.id);
  const seconds = (Date.parse(run.ended_at ?? new Date().toISOString()) - Date.parse(run.started_at)) / 1000;
  const retry = run.state === "done" && (run.progress.queries_failed > 0 || run.progress.audits_failed > 0);
  return (
    <>
      <p className="mt-1 mb-2 text-soft">
        <strong className={`font-semibold ${run.state === "failed" ? "text-alarm" : "text-ink"}`}>
          {WORDS[run.state]}
        </strong>{" "}
        {run.ended_at ? `${when(run.ended_at)}, after ${duration(seconds)}` : `since ${when(run.started_at)}`}
      </p>
      <Bar share={run.share} label="Share of the known work done" />
      {run.why && (
        <p className="mt-2 border-l-[3px] border-acorn pl-2">
          {sentence(run.why)} {run.remedy && sentence(run.remedy)}
        </p>
      )}
      <div className="mt-2.5 flex gap-2">
        {run.state === "running" && (
          <Button onClick={() => command.mutate("stop")} disabled={command.isPending}>
            Pause
          </Button>
        )}
        {(run.state === "stopped" || run.state === "failed" || retry) && (
          <Button look="main" onClick={() => command.mutate("resume")} disabled={command.isPending}>
            {retry ? "Retry the failed ones" : "Resume"}
          </Button>
        )}
        {run.state !== "done" && (
          <Button
            onClick={() => command.mutate("end")}
            disabled={command.isPending}
            title="Finish now; remaining questions are skipped"
          >
            End here
          </Button>
        )}
        <Link
          to={`/businesses?run=${run.id}`}
          className="rounded-[3px] border border-line bg-sheet px-2.5 py-1 font-medium hover:border-leaf"
        >
          View businesses
        </Link>
      </div>
      <ErrorNote error={command.error} />
    </>
  );
}

function Counts({ run }: { run: Run }) {
  const { progress } = run;
  const rejected = Object.entries(run.rejected);
  return (
    <dl className="mt-4 border-t border-line">
      <Line name="Found" value={count(run.found)}>
        listings
      </Line>
      <Line name="Merged" value={count(run.held)}>
        businesses in store{run.plan.wanted > 0 && ` of ${count(run.plan.wanted)} wanted`}
      </Line>
      <Line name="Audited" value={count(progress.audits_done)}>
        {progress.audits_left > 0 ? `${count(progress.audits_left)} to go` : "none waiting"}
        {progress.audits_failed > 0 && `, ${count(progress.audits_failed)} failed`}
      </Line>
      {progress.looks_done + progress.looks_left > 0 && (
        <Line name="Opened" value={count(progress.looks_done)}>
          in a browser, the best offers first
          {progress.looks_left > 0 && `; ${count(progress.looks_left)} to go`}
        </Line>
      )}
      <Line name="Questions" value={count(progress.queries_done)}>
        {progress.queries_left > 0 ? `${count(progress.queries_left)} to go` : "none waiting"}
        {progress.queries_failed > 0 && `, ${count(progress.queries_failed)} failed`}
        {progress.queries_skipped > 0 && `, ${count(progress.queries_skipped)} not needed`}
        {run.retries > 0 && `, ${count(run.retries)} asked again`}
      </Line>
      {run.cost > 0 && (
        <Line name="Cost" value={run.cost.toFixed(2)}>
          {run.held > 0 && `${((1000 * run.cost) / run.held).toFixed(2)} for 1,000 businesses`}
        </Line>
      )}
      {progress.pages_done + progress.pages_left > 0 && (
        <Line name="Pages" value={count(progress.pages_done)}>
          {progress.pages_left > 0 ? `${count(progress.pages_left)} to go` : "for owners, made"}
        </Line>
      )}
      {progress.merges_left > 0 && (
        <Line name="Pieces" value={count(progress.merges_done)}>
          merged, {count(progress.merges_left)} to go
        </Line>
      )}
      <Line name="Cut short" value={count(run.cut_short)}>
        {run.cut_short ? "areas hold more than the source gives" : "areas: nothing was cut off"}
      </Line>
      {run.doubts > 0 && (
        <Line name="In doubt" value={count(run.doubts)}>
          <Link to="/sweeps/duplicates" className="text-leaf-dark underline">
            possible duplicates
          </Link>
        </Line>
      )}
      {rejected.length > 0 && (
        <Line name="Left out" value={count(rejected.reduce((sum, [, number]) => sum + number, 0))}>
          <details>
            <summary className="cursor-pointer text-leaf-dark">kept, with the reason</summary>
            <ul>
              {rejected.map(([reason, number]) => (
                <li key={reason}>
                  {count(number)} {reason}
                </li>
              ))}
            </ul>
          </details>
        </Line>
      )}
    </dl>
  );
}

function Line({ name, value, children }: { name: string; value: string; children: ReactNode }) {
  return (
    <div className="grid grid-cols-[82px_58px_1fr] items-baseline border-b border-faint py-1">
      <dt className="text-soft">{name}</dt>
      <dd className="pr-2.5 text-right text-[15px] font-semibold">{value}</dd>
      <dd className="text-soft">{children}</dd>
    </div>
  );
}

function Notes({ run }: { run: Run }) {
  const all = run.failed + run.cut_short;
  return (
    <section aria-label="What failed" className="mt-4">
      <h2 className="border-b border-line pb-0.5 text-[14px]">What failed, and why</h2>
      {run.notes.length === 0 && <p className="mt-1 text-soft">Nothing so far.</p>}
      <ul>
        {run.notes.map((note) => (
          <li key={`${note.at}${note.text}`} className="border-b border-faint py-1">
            <span className="text-soft">{note.kind}:</span> {sentence(note.text)}{" "}
            {note.remedy && <span className="text-soft">{sentence(note.remedy)}</span>}
          </li>
        ))}
      </ul>
      {all > run.notes.length && (
        <p className="mt-1 text-soft">
          The latest {run.notes.length} of {count(all)} are shown.
        </p>
      )}
    </section>
  );
}
