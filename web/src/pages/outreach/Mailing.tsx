import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import UndoNote, { useActionLog } from "../../components/UndoNote";
import { count, when } from "../../lib/format";
import { author } from "../../lib/session";
import { useMailing, useSendMailing } from "../../queries/outreach";
import Nav from "./Nav";

type Letter = Schemas["Letter"];

/** A shortlist as a file for a mailer: who is written to, with what; who is not, and why. */
export default function Mailing() {
  const [params] = useSearchParams();
  const shortlist = Number(params.get("shortlist") ?? 0);
  const [days, setDays] = useState(60);
  const query = useMailing(shortlist, days);
  const send = useSendMailing(shortlist);
  const actions = useActionLog();
  const draft = query.data;
  const written = draft?.letters.filter((letter) => !letter.reason) ?? [];
  const left = draft?.letters.filter((letter) => letter.reason) ?? [];
  return (
    <div className="flex h-full">
      <Nav chosen={shortlist} title="Write to a shortlist" />
      <section aria-label="Mailing" className="min-w-0 flex-1 overflow-y-auto px-5 py-4">
        <h1 className="text-lg">Write to this shortlist</h1>
        <p className="max-w-2xl text-soft">
          A file for your mail program: verified addresses only, no duplicates, no clients or do-not-contact.
          Marking it as sent records everybody in it as contacted.
        </p>
        <p className="mt-2 flex items-center gap-2">
          <label htmlFor="days">Skip anybody contacted within</label>
          <input
            id="days"
            type="number"
            min={0}
            max={3650}
            value={days}
            onChange={(event) => setDays(Math.max(0, Math.min(3650, Number(event.target.value) || 0)))}
            className={`w-20 box`}
          />
          days
          <Button
            look="main"
            className="ml-4"
            disabled={!draft || draft.sent === 0 || send.isPending}
            onClick={() =>
              send.mutate(
                { days, by: author() },
                {
                  onSuccess: (result) =>
                    actions.note(
                      { id: result.action_id, text: `marked a mailing to ${result.sent} as sent` },
                      null,
                    ),
                },
              )
            }
          >
            Mark {draft ? count(draft.sent) : "…"} as sent
          </Button>
        </p>
        <ErrorNote error={query.error ?? send.error} />
        {draft && !draft.public && (
          <p className="mt-2 text-soft">
            Owners’ pages open on this machine alone, so the letters name none.{" "}
            <Link to="/settings#public_address" className="text-leaf-dark underline">
              Set their public address
            </Link>
          </p>
        )}
        {draft && draft.earlier.length > 0 && <Earlier mailings={draft.earlier} />}
        {draft && written.length === 0 && (
          <Empty title="Nobody can be written to now">The reasons stand below, beside each name.</Empty>
        )}
        {written.length > 0 && <Written letters={written} />}
        {left.length > 0 && <Left letters={left} />}
      </section>
      <UndoNote actions={actions} />
    </div>
  );
}

function Earlier({ mailings }: { mailings: Schemas["MailingLine"][] }) {
  return (
    <ul aria-label="Earlier mailings" className="mt-3 max-w-2xl border-y border-line">
      {mailings.map((item) => (
        <li key={item.id} className="flex gap-3 border-b border-faint py-1 last:border-0">
          <span className="flex-1">
            Sent off {when(item.at)}
            {item.by && ` by ${item.by}`}: {count(item.sent)} written to, {count(item.left_out)} left out
          </span>
          {(["csv", "xlsx"] as const).map((form) => (
            <a
              key={form}
              className="text-leaf-dark underline"
              href={`/api/mailings/${item.id}.${form}`}
              download
            >
              {form.toUpperCase()}
            </a>
          ))}
        </li>
      ))}
    </ul>
  );
}

function Written({ letters }: { letters: Letter[] }) {
  return (
    <table className="mt-3 w-full bg-sheet">
      <thead className="text-left text-soft">
        <tr className="border-b border-line">
          {["Business", "To", "Opening line", "Offer", "Page"].map((head) => (
            <th key={head} scope="col" className="px-2 py-1 font-normal">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {letters.map((letter) => (
          <tr key={letter.id} className="border-b border-faint align-top">
            <td className="px-2 py-1 font-medium">{letter.business}</td>
            <td className="px-2 py-1">
              {[letter.first_name, letter.last_name].filter(Boolean).join(" ")}
              <span className="block text-soft">{letter.email}</span>
            </td>
            <td className="px-2 py-1">{letter.line}</td>
            <td className="px-2 py-1">{letter.offer}</td>
            <td className="px-2 py-1">
              {letter.page ? (
                "shared"
              ) : (
                <Link className="text-leaf-dark hover:underline" to={`/outreach/page/${letter.id}`}>
                  not created
                </Link>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Left({ letters }: { letters: Letter[] }) {
  return (
    <>
      <h2 className="mt-4 border-b border-line text-[14px]">Left out: {count(letters.length)}</h2>
      <ul className="max-w-2xl">
        {letters.map((letter) => (
          <li key={letter.id} className="flex justify-between gap-3 border-b border-faint py-0.5">
            <span>{letter.business}</span>
            <span className="text-soft">{letter.reason}</span>
          </li>
        ))}
      </ul>
    </>
  );
}
