import { useState } from "react";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { count, when } from "../../lib/format";
import {
  type Mailbox,
  useDeleteMailbox,
  useMailboxes,
  useSendTest,
  useTryMailbox,
} from "../../queries/messages";
import MailboxForm from "./MailboxForm";
import Nav from "./Nav";
import SendingRules from "./SendingRules";
import TextGateway from "./TextGateway";

/** The mailboxes that messages leave by and arrive in, and the rules that hold for all of them. */
export default function Mailboxes() {
  const query = useMailboxes();
  const [open, setOpen] = useState<number | null>(null);
  return (
    <div className="flex h-full">
      <Nav title="Mailboxes" />
      <section aria-label="Mailboxes" className="min-w-0 flex-1 overflow-y-auto px-5 py-4">
        <div className="flex max-w-4xl items-center">
          <h1 className="text-lg">Mailboxes</h1>
          <Button look="main" className="ml-auto" onClick={() => setOpen(0)}>
            Add a mailbox
          </Button>
        </div>
        <ErrorNote error={query.error} />
        {open === 0 && <MailboxForm onDone={() => setOpen(null)} />}
        {query.data?.length === 0 && open === null && (
          <Empty title="No mailbox yet">
            Messages leave by your own mailboxes, and answers are read there. Add one to begin.
          </Empty>
        )}
        <ul className="max-w-4xl">
          {query.data?.map((box) => (
            <li key={box.id} className="border-b border-line py-3">
              <Line box={box} onEdit={() => setOpen(open === box.id ? null : box.id)} />
              {open === box.id && <MailboxForm box={box} onDone={() => setOpen(null)} />}
            </li>
          ))}
        </ul>
        <SendingRules />
        <TextGateway />
      </section>
    </div>
  );
}

function Line({ box, onEdit }: { box: Mailbox; onEdit: () => void }) {
  const attempt = useTryMailbox();
  const test = useSendTest();
  const drop = useDeleteMailbox();
  const tried = attempt.data;
  return (
    <>
      <p className="flex items-baseline gap-3">
        <strong className="font-serif text-[15px]">{box.address}</strong>
        <span className="text-soft">{box.name}</span>
        <span className="tabular-nums">
          {count(box.sent_today)} of {count(box.today)} today
        </span>
        {box.today < box.daily_limit && (
          <span className="text-soft">warming up, later {count(box.daily_limit)}</span>
        )}
        {box.paused && <span className="text-acorn">paused</span>}
        <span className="ml-auto">
          <Button look="quiet" onClick={onEdit}>
            Edit
          </Button>
          <Button look="quiet" disabled={attempt.isPending} onClick={() => attempt.mutate(box.id)}>
            Test sign-in
          </Button>
          <Button
            look="quiet"
            disabled={test.isPending}
            onClick={() => test.mutate({ number: box.id, to: box.address })}
          >
            Send a test to yourself
          </Button>
          <Button look="quiet" onClick={() => drop.mutate(box.id)}>
            Delete
          </Button>
        </span>
      </p>
      <p className="text-soft">
        Sends by {box.smtp_host}:{box.smtp_port}
        {box.imap_host ? `, reads at ${box.imap_host}:${box.imap_port}` : ", is not read"}
        {box.read_at && `, last read ${when(box.read_at)}`}
      </p>
      {box.problem && <p className="text-alarm">Sending: {box.problem}</p>}
      {box.reading_problem && <p className="text-alarm">Reading: {box.reading_problem}</p>}
      {attempt.isPending && <output className="text-soft">signing in …</output>}
      {tried?.domain?.map((note) => (
        <p key={note} className="text-acorn">
          Your domain. {note}
        </p>
      ))}
      {tried && !tried.sending && !tried.reading && <output>Sending and reading work.</output>}
      {tried?.reading && !box.reading_problem && <p className="text-alarm">Reading: {tried.reading}</p>}
      {test.data && (
        <output>
          {test.data.sending
            ? `The test did not leave: ${test.data.sending}`
            : `A test went to ${box.address}.`}
        </output>
      )}
      <ErrorNote error={attempt.error ?? test.error ?? drop.error} />
    </>
  );
}
