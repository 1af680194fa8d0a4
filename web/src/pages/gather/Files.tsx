import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { count, when } from "../../lib/format";
import { marks } from "../../lib/marks";
import { useTitle } from "../../lib/useTitle";
import { useFetchList, useImports, usePaste, useUpload } from "../../queries/gathering";
import ImportColumns from "./ImportColumns";

type Import = Schemas["ImportResponse"];
const WAYS = [
  ["file", "A file"],
  ["list", "A pasted list"],
  ["addresses", "Websites"],
  ["fetched", "A list on the web"],
] as const;
type Way = (typeof WAYS)[number][0];

const HINTS: Record<Way, string> = {
  file: "CSV, XLSX, JSON, NDJSON, GeoJSON or a map extract. A name or a website in each row is enough.",
  list: "Copy a page of search results, or any list of names with their details below, and paste it here.",
  addresses:
    "One website per line. …/member/{1..250} stands for 250 addresses. Each website counts as a business.",
  fetched:
    "The address of a CSV, JSON or spreadsheet file, such as a published sheet. It is read again each time its sweep runs.",
};

/** Import a list of the user’s own: read it, agree on the columns, start. */
export default function Files() {
  const [way, setWay] = useState<Way>("file");
  const [text, setText] = useState("");
  const [found, setFound] = useState<Import | null>(null);
  const upload = useUpload();
  const paste = usePaste();
  const fetched = useFetchList();
  useTitle("Import a list");
  const append = found && way === "list" ? found.id : null;
  const read = () =>
    paste.mutate(
      { kind: way === "addresses" ? "addresses" : "list", text, append_to: append },
      {
        onSuccess: (answer) => {
          setFound(answer);
          setText("");
        },
      },
    );
  return (
    <div className="h-full overflow-y-auto px-8 py-5">
      <Link to="/sweeps" className="text-leaf-dark hover:underline">
        ← Sweeps
      </Link>
      <h1 className="mt-1 text-xl">Import a list</h1>
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
                setText("");
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
          aria-label="File to import"
          {...marks(upload.error, "file")}
          className="mt-2 block file:mr-3 file:rounded-[3px] file:border file:border-line file:bg-sheet file:px-2.5 file:py-1 file:font-medium"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) upload.mutate(file, { onSuccess: setFound });
          }}
        />
      ) : way === "fetched" ? (
        <form
          className="mt-2 flex max-w-2xl gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            fetched.mutate(text, { onSuccess: setFound });
          }}
        >
          <input
            aria-label="Address of the list"
            placeholder="https://…"
            {...marks(fetched.error, "file")}
            value={text}
            onChange={(event) => setText(event.target.value)}
            className="box min-w-0 flex-1"
          />
          <Button type="submit" disabled={!text.trim() || fetched.isPending}>
            {fetched.isPending ? "Fetching…" : "Fetch it"}
          </Button>
        </form>
      ) : (
        <>
          <textarea
            aria-label={way === "list" ? "Pasted list" : "Website addresses"}
            {...marks(paste.error, "text")}
            rows={7}
            value={text}
            onChange={(event) => setText(event.target.value)}
            className={`mt-2 block w-full max-w-2xl box`}
          />
          <Button className="mt-1" disabled={!text.trim() || paste.isPending} onClick={read}>
            {append === null ? "Read it" : "Add this to the text pasted before"}
          </Button>
        </>
      )}
      {upload.isPending && <p className="mt-2 text-soft">Reading …</p>}
      <ErrorNote error={upload.error ?? paste.error ?? fetched.error} />
      {found ? (
        <ImportColumns
          key={`${found.id}/${found.rows.length}/${found.encoding}`}
          found={found}
          onReread={setFound}
        />
      ) : (
        <Before />
      )}
    </div>
  );
}

function Before() {
  const before = useImports().data ?? [];
  if (before.length === 0) return null;
  return (
    <section aria-label="Earlier imports" className="mt-6 max-w-3xl">
      <h2 className="border-b border-line pb-0.5 text-[14px]">Earlier imports</h2>
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
