import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { count } from "../../lib/format";
import { type SequenceLine, useDeleteSequence, usePauseSequence, useSequences } from "../../queries/messages";
import AddToSequence from "./AddToSequence";
import Enrolments from "./Enrolments";
import Nav from "./Nav";
import SequenceEditor from "./SequenceEditor";
import { STEP_WORDS, WHEN_WORDS } from "./steps";

/** All sequences; or one: its steps, who is in it, and what each gets next. */
export default function Sequences() {
  const { id } = useParams();
  const query = useSequences();
  const [making, setMaking] = useState(false);
  const found = query.data?.find((item) => item.id === Number(id));
  return (
    <div className="flex h-full">
      <Nav title={found?.name ?? "Sequences"} />
      <section aria-label="Sequences" className="min-w-0 flex-1 overflow-y-auto px-5 py-4">
        <ErrorNote error={query.error} />
        {found ? (
          <OneSequence key={found.id} sequence={found} />
        ) : (
          <>
            <div className="flex items-center gap-2">
              <h1 className="text-lg">Sequences</h1>
              <Button className="ml-auto" onClick={() => setMaking(true)}>
                New sequence
              </Button>
            </div>
            <p className="max-w-2xl text-soft">
              Steps on working days: e-mails, calls, texts, the owner’s page. A reply, a bounce or an opt-out
              ends it at once.
            </p>
            {making && <SequenceEditor onDone={() => setMaking(false)} />}
            {query.data?.length === 0 && !making && (
              <Empty title="No sequence yet">Make one of e-mails, calls, texts and owner’s pages.</Empty>
            )}
            {query.data && query.data.length > 0 && <List found={query.data} />}
          </>
        )}
      </section>
    </div>
  );
}

function List({ found }: { found: SequenceLine[] }) {
  return (
    <table className="mt-3 w-full max-w-4xl bg-sheet">
      <thead className="text-left text-soft">
        <tr className="border-b border-line">
          {["Sequence", "Steps", "Active", "On hold", "Ended early", "Finished"].map((head, at) => (
            <th key={head} scope="col" className={`px-2 py-1 font-normal ${at > 1 ? "text-right" : ""}`}>
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {found.map((item) => (
          <tr key={item.id} className="border-b border-faint">
            <td className="px-2 py-1.5">
              <Link
                to={`/outreach/sequences/${item.id}`}
                className="font-medium text-leaf-dark hover:underline"
              >
                {item.name}
              </Link>
              {item.paused && <span className="ml-2 text-acorn">paused</span>}
            </td>
            <td className="px-2 py-1.5 text-soft">
              {item.steps.map((step) => STEP_WORDS[step.kind]).join(" · ")}
            </td>
            {[item.active, item.held, item.stopped, item.finished].map((number, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: four columns that never move
              <td key={at} className="px-2 py-1.5 text-right tabular-nums">
                {number > 0 ? count(number) : <span className="text-soft">–</span>}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function OneSequence({ sequence }: { sequence: SequenceLine }) {
  const pause = usePauseSequence();
  const drop = useDeleteSequence();
  const go = useNavigate();
  const [editing, setEditing] = useState(false);
  const [adding, setAdding] = useState(false);
  return (
    <>
      <p>
        <Link to="/outreach/sequences" className="text-leaf-dark hover:underline">
          ← All sequences
        </Link>
      </p>
      <div className="flex flex-wrap items-center gap-2">
        <h1 className="text-lg">{sequence.name}</h1>
        {sequence.paused && <strong className="text-acorn">paused: nothing leaves</strong>}
        <span className="ml-auto flex gap-1.5">
          <Button onClick={() => pause.mutate({ sequence_id: sequence.id, paused: !sequence.paused })}>
            {sequence.paused ? "Resume" : "Pause"}
          </Button>
          <Button onClick={() => setEditing(!editing)}>Edit steps</Button>
          {sequence.active + sequence.held + sequence.stopped + sequence.finished === 0 && (
            <Button onClick={() => drop.mutate(sequence.id, { onSuccess: () => go("/outreach/sequences") })}>
              Delete
            </Button>
          )}
          <Button look="main" onClick={() => setAdding(!adding)}>
            Add businesses
          </Button>
        </span>
      </div>
      <ErrorNote error={pause.error ?? drop.error} />
      {editing ? (
        <SequenceEditor start={sequence} onDone={() => setEditing(false)} />
      ) : (
        <ol className="mt-2 flex flex-wrap gap-x-1 gap-y-1 text-soft" aria-label="Steps">
          {sequence.steps.map((step, index) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: steps have no other name
            <li key={index} className="flex items-center gap-1">
              {index > 0 && <span aria-hidden>→</span>}
              {step.after_days > 0 && `after ${step.after_days} ${step.after_days === 1 ? "day" : "days"}: `}
              <span className="rounded-[3px] border border-line bg-sheet px-1.5 text-ink">
                {STEP_WORDS[step.kind]}
              </span>
              {step.when !== "always" && <span>{WHEN_WORDS[step.when ?? "always"]}</span>}
            </li>
          ))}
        </ol>
      )}
      {adding && <AddToSequence sequence={sequence.id} onDone={() => setAdding(false)} />}
      <Enrolments sequence={sequence.id} />
    </>
  );
}
