import { useState } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { sentence } from "../../lib/format";
import { useTrades } from "../../queries/catalogue";
import { useChangeEncoding, useStartImport } from "../../queries/gathering";
import PhoneCountry, { AS_WRITTEN } from "./PhoneCountry";

type Import = Schemas["ImportResponse"];

interface Props {
  found: Import;
  /** Called with the list as it reads in another encoding. */
  onReread: (found: Import) => void;
}

/** The columns of a list and how its text is read: guessed, corrected by the user, then imported. */
export default function ImportColumns({ found, onReread }: Props) {
  const [columns, setColumns] = useState<Record<string, string>>(found.columns);
  const [title, setTitle] = useState(found.title);
  const [trade, setTrade] = useState("");
  const trades = useTrades().data ?? [];
  const [phones, setPhones] = useState("");
  const start = useStartImport();
  const reread = useChangeEncoding();
  const navigate = useNavigate();
  const fieldOf = (heading: string) =>
    Object.entries(columns).find(([, column]) => column === heading)?.[0] ?? "";
  const set = (heading: string, field: string) => {
    const next = Object.fromEntries(
      Object.entries(columns).filter(([key, column]) => column !== heading && key !== field),
    );
    setColumns(field ? { ...next, [field]: heading } : next);
  };
  return (
    <section aria-label="Columns" className="mt-4">
      <h2 className="text-[14px]">
        Which column is which{" "}
        <span className="font-sans font-normal text-soft">
          {found.remembered ? "as you chose for such a file before" : "guessed: change what is wrong"}
        </span>
      </h2>
      <section
        aria-label="First rows"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard
        tabIndex={0}
        className="mt-1 overflow-x-auto bg-sheet"
      >
        <table>
          <thead className="text-left">
            <tr>
              {found.headings.map((heading) => (
                <th key={heading} scope="col" className="px-2 py-1 font-normal">
                  <span className="block text-soft">{heading}</span>
                  <select
                    aria-label={`What ${heading} says`}
                    value={fieldOf(heading)}
                    onChange={(event) => set(heading, event.target.value)}
                    className="box"
                  >
                    <option value="">not used</option>
                    {found.fields.map((field) => (
                      <option key={field}>{field}</option>
                    ))}
                  </select>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {found.rows.map((row, index) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: rows are shown as they stand in the file
              <tr key={index} className="border-t border-faint">
                {found.headings.map((heading) => (
                  <td
                    key={heading}
                    className={`max-w-52 truncate px-2 py-0.5 ${fieldOf(heading) ? "" : "text-soft"}`}
                  >
                    {row[heading]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      {found.broken.length > 0 && (
        <p className="mt-1 text-acorn">These rows cannot be read: {found.broken.join("; ")}.</p>
      )}
      {found.notes.length > 0 && <p className="mt-1 text-soft">{sentence(found.notes.join("; "))}</p>}
      <div className="mt-3 flex flex-wrap items-end gap-3">
        <label>
          <span className="block text-soft">Name of the list</span>
          <input value={title} onChange={(event) => setTitle(event.target.value)} className={`w-60 box`} />
        </label>
        <label>
          <span className="block text-soft">Trade of rows that name none</span>
          <select value={trade} onChange={(event) => setTrade(event.target.value)} className="box">
            <option value="">not known</option>
            {trades.map((item) => (
              <option key={item.id} value={item.id}>
                {item.plural}
              </option>
            ))}
          </select>
        </label>
        {found.encoding && (
          <label>
            <span className="block text-soft">Text encoding (guessed)</span>
            <select
              value={found.encoding}
              disabled={reread.isPending}
              onChange={(event) =>
                reread.mutate({ id: found.id, encoding: event.target.value }, { onSuccess: onReread })
              }
              className="box"
            >
              {found.encodings.map((item) => (
                <option key={item.id} value={item.id}>
                  {item.label}
                </option>
              ))}
            </select>
          </label>
        )}
        {found.national_phones.length > 0 && (
          <PhoneCountry example={found.national_phones[0] ?? ""} answer={phones} onAnswer={setPhones} />
        )}
        <Button
          look="main"
          disabled={!title.trim() || start.isPending || (found.national_phones.length > 0 && !phones)}
          onClick={() =>
            start.mutate(
              { id: found.id, title, columns, trade, keep_phones: phones === AS_WRITTEN },
              { onSuccess: (run) => navigate(`/sweeps/runs/${run.run_id}`) },
            )
          }
        >
          Import
        </Button>
      </div>
      <ErrorNote error={start.error ?? reread.error} />
    </section>
  );
}
