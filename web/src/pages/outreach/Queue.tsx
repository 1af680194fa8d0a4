import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { count, when } from "../../lib/format";
import {
  type MessageState,
  useApprove,
  useCancelMessage,
  useMailboxes,
  useQueue,
  useSaveSendingRules,
  useSendingRules,
} from "../../queries/messages";
import MessagePanel from "./MessagePanel";
import Nav from "./Nav";

const PAGE = 100;
const TABS: [string, string, MessageState[]][] = [
  ["approve", "To approve", ["to approve"]],
  ["waiting", "Waiting", ["waiting"]],
  ["sent", "Sent", ["sending", "sent", "perhaps sent"]],
  ["failed", "Bounced and failed", ["bounced", "failed"]],
  ["cancelled", "Cancelled", ["cancelled"]],
];
type Line = Schemas["QueueLine"];

/** What goes when, by which mailbox; what waits to be approved; what went and what came back. */
export default function Queue() {
  const [params, change] = useSearchParams();
  const tab = TABS.find(([id]) => id === params.get("show")) ?? TABS[1];
  const [, , states] = tab as (typeof TABS)[number];
  const first = Number(params.get("from") ?? 0);
  const query = useQueue(states, first);
  const counts = query.data?.counts ?? {};
  const [open, setOpen] = useState(0);
  const go = (show: string, from = 0) => {
    setOpen(0);
    change(from ? { show, from: String(from) } : { show });
  };
  return (
    <div className="flex h-full">
      <Nav title="Queue" />
      <section aria-label="Queue" className="min-w-0 flex-1 overflow-y-auto px-5 py-4">
        <div className="flex items-center gap-2">
          <h1 className="text-lg">Queue</h1>
          <PauseAll />
        </div>
        <div role="tablist" aria-label="Messages" className="mt-2 flex gap-1">
          {TABS.map(([id, words, of]) => (
            <button
              key={id}
              type="button"
              role="tab"
              aria-selected={id === tab?.[0]}
              onClick={() => go(id)}
              className="rounded-[3px] border border-line bg-sheet px-2.5 py-1 font-medium aria-selected:border-leaf aria-selected:bg-leaf-soft aria-selected:text-leaf-dark"
            >
              {words}{" "}
              <span className="text-soft tabular-nums">
                {count(of.reduce((sum, state) => sum + (counts[state] ?? 0), 0))}
              </span>
            </button>
          ))}
        </div>
        <ErrorNote error={query.error} />
        {tab?.[0] === "approve" && query.data && query.data.total > 0 && (
          <Approve total={query.data.total} left={query.data.by_hand_left} />
        )}
        {query.data?.total === 0 && (
          <Empty title="Nothing here">Messages appear as sequences get to their e-mails.</Empty>
        )}
        {query.data && query.data.total > 0 && (
          <Lines lines={query.data.lines} open={open} onOpen={setOpen} />
        )}
        {query.data && query.data.total > PAGE && (
          <p className="mt-2 flex items-center gap-2 text-soft">
            {count(first + 1)}–{count(first + query.data.lines.length)} of {count(query.data.total)}
            <Button disabled={first === 0} onClick={() => go(tab?.[0] ?? "", Math.max(0, first - PAGE))}>
              Previous
            </Button>
            <Button
              disabled={first + PAGE >= query.data.total}
              onClick={() => go(tab?.[0] ?? "", first + PAGE)}
            >
              Next
            </Button>
          </p>
        )}
      </section>
      {open > 0 && <MessagePanel key={open} number={open} onClose={() => setOpen(0)} />}
    </div>
  );
}

/** The one switch that stops everything. */
function PauseAll() {
  const rules = useSendingRules().data;
  const save = useSaveSendingRules();
  const boxes = useMailboxes().data;
  if (!rules) return null;
  return (
    <span className="ml-auto flex items-center gap-2">
      {boxes?.length === 0 && (
        <Link to="/outreach/mailboxes" className="text-leaf-dark underline">
          Add a mailbox first
        </Link>
      )}
      {rules.paused && <strong className="text-acorn">Paused: nothing leaves</strong>}
      <Button disabled={save.isPending} onClick={() => save.mutate({ ...rules, paused: !rules.paused })}>
        {rules.paused ? "Resume sending" : "Pause sending"}
      </Button>
    </span>
  );
}

function Approve({ total, left }: { total: number; left: number }) {
  const approve = useApprove();
  return (
    <p className="mt-3 flex items-center gap-3">
      <Button
        look="main"
        disabled={approve.isPending}
        onClick={() => approve.mutate({ ids: [], every: true })}
      >
        Approve all {count(total)}
      </Button>
      <span className="text-soft">
        {left < 0
          ? "Every message is approved by hand."
          : `After ${count(left)} more approvals, messages leave without.`}{" "}
        <Link to="/outreach/mailboxes" className="text-leaf-dark underline">
          Change
        </Link>
      </span>
      <ErrorNote error={approve.error} />
    </p>
  );
}

/** Messages in rows; with one open, whom it goes to and by which mailbox stand in its panel. */
function Lines({ lines, open, onOpen }: { lines: Line[]; open: number; onOpen: (number: number) => void }) {
  const approve = useApprove();
  const cancel = useCancelMessage();
  const acts = lines.some((line) => line.state === "to approve" || line.state === "waiting");
  return (
    <>
      <ErrorNote error={approve.error ?? cancel.error} />
      <table className="mt-3 w-full table-fixed bg-sheet">
        <thead className="text-left text-soft">
          <tr className="border-b border-line">
            {[
              ["When", "w-32"],
              ["Business", "w-52"],
              ...(open ? [] : [["To", "w-56"]]),
              ["Subject", ""],
              ...(open ? [] : [["Mailbox", "w-44"]]),
              ...(acts ? [["Change", "w-36"]] : []),
            ].map(([head, width]) => (
              <th key={head} scope="col" className={`px-2 py-1 font-normal ${width}`}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => (
            <tr
              key={line.id}
              className={`border-b border-faint align-top ${line.id === open ? "bg-leaf-soft" : ""}`}
            >
              <td className="px-2 py-1 tabular-nums whitespace-nowrap">{line.at ? when(line.at) : "–"}</td>
              <td className="truncate px-2 py-1">
                <Link
                  to={`/outreach/inbox?b=${line.business_id}`}
                  className="font-medium hover:underline"
                  title={line.business}
                >
                  {line.business}
                </Link>
                <span className="block truncate text-soft">{line.sequence}</span>
              </td>
              {!open && (
                <td className="truncate px-2 py-1" title={line.address}>
                  {line.person}
                  <span className="block truncate text-soft">{line.address}</span>
                </td>
              )}
              <td className="px-2 py-1">
                <button
                  type="button"
                  className="block w-full truncate text-left text-leaf-dark hover:underline"
                  onClick={() => onOpen(line.id)}
                >
                  {line.subject}
                </button>
                {line.why && <span className="block text-soft">{line.why}</span>}
                {line.state === "perhaps sent" && <span className="block text-alarm">perhaps sent</span>}
              </td>
              {!open && (
                <td className="truncate px-2 py-1 text-soft" title={line.box}>
                  {line.box || "–"}
                </td>
              )}
              {acts && (
                <td className="px-2 py-1 text-right whitespace-nowrap">
                  {line.state === "to approve" && (
                    <Button look="quiet" onClick={() => approve.mutate({ ids: [line.id], every: false })}>
                      Approve
                    </Button>
                  )}
                  {(line.state === "to approve" || line.state === "waiting") && (
                    <Button look="quiet" onClick={() => cancel.mutate(line.id)}>
                      Cancel
                    </Button>
                  )}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
