import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { base64 } from "../../lib/base64";
import { count } from "../../lib/format";
import { me } from "../../lib/me";
import { RESULTS } from "../../lib/results";
import { type CallResultsAsked, useCallResults } from "../../queries/dialling";

/** Reads a dialler's results: shows what each word is taken for, lets it be changed, and notes them. */
export default function CallResults() {
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
    show({ name: file.name, content, fields: {}, meanings: {}, by: me(), keep: false });
  };
  const found = read.data;
  return (
    <div className="w-[340px] shrink-0 border-l border-line pl-4">
      <h2 className="text-[15px]">Results</h2>
      <p className="text-soft">The file that your dialler exports: CSV or a spreadsheet.</p>
      <input
        type="file"
        aria-label="File of results"
        className="mt-1.5 w-full"
        onChange={(event) => void take(event.target.files?.[0])}
      />
      <ErrorNote error={read.error} />
      {asked && found && (
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
