import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { base64 } from "../../lib/base64";
import { count, sentence } from "../../lib/format";
import { RESULTS } from "../../lib/results";
import { author } from "../../lib/session";
import { type CallResultsAsked, useCallResults } from "../../queries/dialling";

type Channel = NonNullable<CallResultsAsked["channel"]>;

const FIELDS: Record<string, string> = {
  reference: "Our reference",
  number: "Phone number",
  email: "E-mail address",
  result: "Result",
  note: "Note",
  at: "When",
  follow_up: "Follow up",
  amount: "Amount",
};
const CHANNELS: [Channel, string][] = [
  ["call", "phone"],
  ["email", "e-mail"],
  ["text", "text message"],
];

/** Reads another tool’s results: its columns, what each word is taken for, both changeable and remembered; and notes them. */
export default function ResultsFile() {
  const read = useCallResults();
  const [asked, setAsked] = useState<CallResultsAsked | null>(null);
  const [kept, setKept] = useState(false);
  const show = (next: CallResultsAsked) => {
    setAsked(next);
    setKept(next.keep ?? false);
    read.mutate(next);
  };
  const take = async (file: File | undefined) => {
    if (!file) return;
    const content = await base64(file);
    show({ name: file.name, content, fields: {}, meanings: {}, channel: "", by: author(), keep: false });
  };
  const found = read.data;
  return (
    <div className="min-w-0">
      <h2 className="text-[15px]">Results from another tool</h2>
      <p className="text-soft">
        The file that your dialler, mailer or CRM exports: CSV or a spreadsheet. What you choose is
        remembered.
      </p>
      <input
        type="file"
        aria-label="File of results"
        className="mt-1.5 w-full"
        onChange={(event) => void take(event.target.files?.[0])}
      />
      <ErrorNote error={read.error} />
      {asked && found && (
        <Columns
          asked={asked}
          headings={found.headings}
          chosen={found.fields}
          channel={found.channel as Channel}
          disabled={kept}
          onChange={show}
        />
      )}
      {found?.lacks && <p className="mt-1.5 text-acorn">{sentence(found.lacks)}</p>}
      {asked && found && !found.lacks && (
        <>
          <table className="mt-2 w-full">
            <tbody>
              {Object.entries(found.words).map(([word, number]) => (
                <tr key={word} className="border-b border-faint">
                  <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                    {word} <span className="text-soft">{count(number)}</span>
                  </th>
                  <td>
                    <select
                      aria-label={`Meaning of ${word}`}
                      value={found.meanings[word] ?? ""}
                      disabled={kept}
                      onChange={(event) =>
                        show({ ...asked, meanings: { ...asked.meanings, [word]: event.target.value } })
                      }
                      className="w-full box"
                    >
                      <option value="">leave out</option>
                      {RESULTS.map((kind) => (
                        <option key={kind.id}>{kind.id}</option>
                      ))}
                      <option value="bounced">the address bounced</option>
                    </select>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <ul className="mt-1.5 text-soft">
            {Object.entries(found.skipped).map(([reason, number]) => (
              <li key={reason}>
                {count(number)} left out: {reason}
              </li>
            ))}
          </ul>
          {kept ? (
            <output className="mt-1.5 block font-semibold">
              {count(found.noted)} {found.noted === 1 ? "result" : "results"} saved
            </output>
          ) : (
            <Button
              look="main"
              className="mt-1.5"
              disabled={read.isPending || found.noted === 0}
              onClick={() => show({ ...asked, keep: true })}
            >
              Save {count(found.noted)} {found.noted === 1 ? "result" : "results"}
            </Button>
          )}
        </>
      )}
    </div>
  );
}

interface ColumnsProps {
  asked: CallResultsAsked;
  headings: string[];
  chosen: Record<string, string>;
  channel: Channel;
  disabled: boolean;
  onChange: (asked: CallResultsAsked) => void;
}

/** Which of the file’s columns holds what, and by what the businesses were contacted. */
function Columns({ asked, headings, chosen, channel, disabled, onChange }: ColumnsProps) {
  return (
    <div className="mt-2 grid grid-cols-[auto_1fr] items-center gap-x-2 gap-y-1">
      {Object.entries(FIELDS).map(([field, title]) => (
        <label key={field} className="contents">
          <span className="text-soft">{title}</span>
          <select
            value={(asked.fields as Record<string, string>)[field] ?? chosen[field] ?? ""}
            disabled={disabled}
            onChange={(event) =>
              onChange({ ...asked, fields: { ...asked.fields, [field]: event.target.value } })
            }
            className="w-full box"
          >
            <option value="">not in the file</option>
            {headings.map((heading) => (
              <option key={heading}>{heading}</option>
            ))}
          </select>
        </label>
      ))}
      <label className="contents">
        <span className="text-soft">Contacted by</span>
        <select
          value={channel}
          disabled={disabled}
          onChange={(event) => onChange({ ...asked, channel: event.target.value as Channel })}
          className="w-full box"
        >
          {CHANNELS.map(([id, title]) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </select>
      </label>
    </div>
  );
}
