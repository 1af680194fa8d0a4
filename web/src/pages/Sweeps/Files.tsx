import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { BOX, Button, ErrorNote } from "../../components/Bits";
import { count, when } from "../../lib/format";
import { useTrades } from "../../queries/catalogue";
import { useImports, usePaste, useStartImport, useUpload } from "../../queries/gathering";

type Import = Schemas["ImportTold"];
const WAYS = [
  ["file", "A file"],
  ["list", "A pasted list"],
  ["addresses", "Websites"],
] as const;
type Way = (typeof WAYS)[number][0];

const HINTS: Record<Way, string> = {
  file: "CSV, XLSX, JSON, NDJSON, GeoJSON or a map extract, also with just a name and a website. All of its rows are taken in, or none.",
  list: "Copy a page of search results or any list and paste it here: names, with what stands below each.",
  addresses:
    "One website a line; …/member/{1..250} stands for 250 addresses. Each is audited as a business of its own.",
};

/** A list of the user’s own: look at it, agree on the columns, take it in. */
export default function Files() {
  const [way, setWay] = useState<Way>("file");
  const [text, setText] = useState("");
  const [found, setFound] = useState<Import | null>(null);
  const upload = useUpload();
  const paste = usePaste();
  useEffect(() => {
    document.title = "Bring in a list – Open Acorn";
  }, []);
  const append = found && way === "list" ? found.id : null;
  const read = () =>
    paste.mutate(
      { kind: way === "addresses" ? "addresses" : "list", text, append_to: append },
      {
        onSuccess: (told) => {
          setFound(told);
          setText("");
        },
      },
    );
  return (
    <div className="h-full overflow-y-auto px-8 py-5">
      <Link to="/sweeps" className="text-leaf-dark hover:underline">
        ← Sweeps
      </Link>
      <h1 className="mt-1 text-xl">Bring in a list</h1>
      <fieldset className="mt-2 flex gap-4">
        <legend className="sr-only">What the list is</legend>
        {WAYS.map(([id, label]) => (
          <label key={id} className="flex items-center gap-1.5">
            <input
              type="radio"
              name="way"
              checked={way === id}
              onChange={() => {
                setWay(id);
                setFound(null);
              }}
              className="accent-leaf"
            />
            {label}
          </label>
        ))}
      </fieldset>
      <p className="mt-1 max-w-2xl text-soft">{HINTS[way]}</p>
      {way === "file" ? (
        <input
          type="file"
          aria-label="File to bring in"
          className="mt-2 block file:mr-3 file:rounded-[3px] file:border file:border-line file:bg-sheet file:px-2.5 file:py-1 file:font-medium"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) upload.mutate(file, { onSuccess: setFound });
          }}
        />
      ) : (
        <>
          <textarea
            aria-label={way === "list" ? "Pasted list" : "Website addresses"}
            rows={7}
            value={text}
            onChange={(event) => setText(event.target.value)}
            className={`mt-2 block w-full max-w-2xl ${BOX}`}
          />
          <Button className="mt-1" disabled={!text.trim() || paste.isPending} onClick={read}>
            {append === null ? "Read it" : "Add this to what was pasted before"}
          </Button>
        </>
      )}
      {upload.isPending && <p className="mt-2 text-soft">Reading …</p>}
      <ErrorNote error={upload.error ?? paste.error} />
      {found ? <Agree key={`${found.id}/${found.rows.length}`} found={found} /> : <Before />}
    </div>
  );
}

function Agree({ found }: { found: Import }) {
  const [columns, setColumns] = useState<Record<string, string>>(found.columns);
  const [title, setTitle] = useState(found.title);
  const [trade, setTrade] = useState("");
  const trades = useTrades().data ?? [];
  const start = useStartImport();
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
          {found.remembered ? "as you had it for such a file before" : "guessed; correct what is wrong"}
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
                    className={BOX}
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
      <p className="mt-3 flex flex-wrap items-end gap-3">
        <label>
          <span className="block text-soft">Name of the list</span>
          <input value={title} onChange={(event) => setTitle(event.target.value)} className={`w-60 ${BOX}`} />
        </label>
        <label>
          <span className="block text-soft">Trade, where the rows do not say it</span>
          <select value={trade} onChange={(event) => setTrade(event.target.value)} className={BOX}>
            <option value="">not known</option>
            {trades.map((item) => (
              <option key={item.id} value={item.id}>
                {item.plural}
              </option>
            ))}
          </select>
        </label>
        <Button
          look="main"
          disabled={!title.trim() || start.isPending}
          onClick={() =>
            start.mutate(
              { id: found.id, title, columns, trade },
              { onSuccess: (run) => navigate(`/sweeps/runs/${run.run_id}`) },
            )
          }
        >
          Take it in
        </Button>
      </p>
      <ErrorNote error={start.error} />
    </section>
  );
}

function Before() {
  const before = useImports().data ?? [];
  if (before.length === 0) return null;
  return (
    <section aria-label="Lists brought in" className="mt-6 max-w-3xl">
      <h2 className="border-b border-line pb-0.5 text-[14px]">Brought in before</h2>
      <ul>
        {before.map((item) => (
          <li key={item.id} className="border-b border-faint py-1">
            <span className="font-medium">{item.title}</span>, {when(item.at)}: {count(item.taken)} rows
            {item.refused > 0 && (
              <details>
                <summary className="cursor-pointer text-acorn">{count(item.refused)} refused</summary>
                <ul className="pl-3">
                  {item.refused_rows.map((row) => (
                    <li key={row.line}>
                      line {row.line}: {row.reason}
                    </li>
                  ))}
                </ul>
                {item.refused > item.refused_rows.length && (
                  <p className="text-soft">
                    The first {item.refused_rows.length} of {count(item.refused)} are shown.
                  </p>
                )}
              </details>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
