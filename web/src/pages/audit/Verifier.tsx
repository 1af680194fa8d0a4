import { useState } from "react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { count } from "../../lib/format";
import { marks } from "../../lib/marks";
import { useTitle } from "../../lib/useTitle";
import { useTakeVerdicts, useVerdictColumns } from "../../queries/gathering";

const WORDS: Record<string, string> = {
  valid: "reach somebody",
  risky: "may reach somebody",
  dead: "reach nobody",
  unknown: "unknown",
};
const OUT = [
  ["email", "E-mail addresses"],
  ["phone", "Phone numbers"],
] as const;
const PARTS = [
  ["address", "Address or number"],
  ["result", "Result"],
  ["stage", "Detail"],
  ["line", "Line type"],
  ["at", "When (ISO 8601)"],
] as const;
const NONE = { address: "", result: "", stage: "", line: "", at: "" };

/** Addresses and numbers out to any verifier, its table back in: for where mail servers cannot be asked from here. */
export default function Verifier() {
  const look = useVerdictColumns();
  const take = useTakeVerdicts();
  const [text, setText] = useState("");
  const [columns, setColumns] = useState(NONE);
  useTitle("Verifier");
  const read = (table: string) => {
    setText(table);
    take.reset();
    if (table.trim())
      look.mutate(table, { onSuccess: (result) => setColumns({ ...NONE, ...result.columns }) });
    else look.reset();
  };
  const table = text.trim() ? look.data : undefined;
  const result = take.data;
  return (
    <div className="h-full overflow-y-auto px-8 py-5">
      <Link to="/sweeps" className="text-leaf-dark hover:underline">
        ← Sweeps
      </Link>
      <h1 className="mt-1 text-xl">Verify contacts with another service</h1>
      <p className="max-w-2xl text-soft">
        A sweep can ask mail servers itself, but many networks block that. Then send the list to a verifier of
        your choice and import its results. Dead addresses no longer count as contacts.
      </p>
      <div className="mt-4 grid max-w-[980px] grid-cols-[240px_1fr] gap-8">
        <section aria-label="Export">
          <h2 className="text-[15px]">Export</h2>
          <p className="mt-1 text-soft">Unverified addresses and numbers, one per line, as CSV.</p>
          {OUT.map(([of, label]) => (
            <a
              key={of}
              href={`/api/verifications/open?of=${of}`}
              download
              className="mt-2 block w-fit rounded-[3px] border border-line bg-sheet px-2.5 py-1 font-medium hover:border-leaf"
            >
              {label}
            </a>
          ))}
        </section>
        <form
          aria-label="Import"
          onSubmit={(event) => {
            event.preventDefault();
            take.mutate({ text, columns }, { onSuccess: () => setText("") });
          }}
        >
          <h2 className="text-[15px]">Import</h2>
          <p className="mt-1 text-soft">
            A table with headings: a column of addresses or numbers, and one of results or line types.
          </p>
          <label className="mt-2 inline-flex cursor-pointer rounded-[3px] border border-line bg-sheet px-2.5 py-1 font-medium focus-within:border-leaf hover:border-leaf">
            Choose a file …
            <input
              type="file"
              accept=".csv,.txt,text/csv"
              className="sr-only"
              onChange={async (event) => read((await event.target.files?.[0]?.text()) ?? "")}
            />
          </label>
          <textarea
            value={text}
            rows={table ? 4 : 9}
            onChange={(event) => read(event.target.value)}
            placeholder={"email,result\ninfo@gull.example,deliverable"}
            aria-label="Verifier results"
            {...marks(look.error ?? take.error, "text")}
            className="mt-2 w-full rounded-[3px] border border-line bg-white px-2 py-1 font-mono text-xs placeholder:text-soft"
          />
          <ErrorNote error={look.error ?? take.error} />
          {table && (
            <Mapping heads={table.heads} first={table.first[0]} columns={columns} onChange={setColumns} />
          )}
          <Button type="submit" look="main" disabled={!text.trim() || take.isPending}>
            {take.isPending ? "Reading …" : table ? `Take in ${count(table.rows)} rows` : "Import"}
          </Button>
          {result && (
            <output className="mt-2 block">
              {Object.entries(result.taken).map(([result, number]) => (
                <span key={result} className="block">
                  <strong className="font-semibold">{count(number)}</strong> {WORDS[result] ?? result}
                </span>
              ))}
              {Object.entries(result.lines).map(([line, number]) => (
                <span key={line} className="block">
                  <strong className="font-semibold">{count(number)}</strong> line type {line}
                </span>
              ))}
              {result.strange.length > 0 && (
                <span className="block text-acorn">
                  Nothing to verify {result.strange.slice(0, 12).join(", ")}
                  {result.strange.length > 12 && " and more"}.
                </span>
              )}
            </output>
          )}
        </form>
      </div>
    </div>
  );
}

interface MappingProps {
  heads: string[];
  first: Record<string, string> | undefined;
  columns: typeof NONE;
  onChange: (columns: typeof NONE) => void;
}

/** Columns, as guessed by its heading, with what stands in the first row. */
function Mapping({ heads, first, columns, onChange }: MappingProps) {
  return (
    <fieldset className="my-2 grid w-fit grid-cols-[auto_auto_auto] items-center gap-x-3 gap-y-1">
      <legend className="mb-1 font-semibold">Columns</legend>
      {PARTS.map(([part, label]) => (
        <label key={part} className="contents">
          <span>{label}</span>
          <select
            value={columns[part]}
            onChange={(event) => onChange({ ...columns, [part]: event.target.value })}
            className="box"
          >
            <option value="">none</option>
            {heads.map((head) => (
              <option key={head}>{head}</option>
            ))}
          </select>
          <span className="max-w-[260px] truncate text-soft">{first?.[columns[part]] ?? ""}</span>
        </label>
      ))}
    </fieldset>
  );
}
