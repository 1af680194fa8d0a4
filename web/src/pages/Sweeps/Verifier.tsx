import { useEffect, useState } from "react";
import { Link } from "react-router";
import { Button, ErrorNote } from "../../components/Bits";
import { count } from "../../lib/format";
import { useTakeVerdicts } from "../../queries/gathering";

const WORDS: Record<string, string> = {
  valid: "reach somebody",
  risky: "may reach somebody",
  dead: "reach nobody",
  unknown: "could not be told",
};

/** Addresses out to any verifier, its table back in: for where mail servers cannot be asked from here. */
export default function Verifier() {
  const take = useTakeVerdicts();
  const [text, setText] = useState("");
  useEffect(() => {
    document.title = "E-mail verifier – Open Acorn";
  }, []);
  const told = take.data;
  return (
    <div className="h-full overflow-y-auto px-8 py-5">
      <Link to="/sweeps" className="text-leaf-dark hover:underline">
        ← Sweeps
      </Link>
      <h1 className="mt-1 text-xl">Addresses to a verifier and back</h1>
      <p className="max-w-2xl text-soft">
        A sweep can ask mail servers itself. Many networks shut that door; then let a verifier of your choice
        ask, and bring its table back. An address that reaches nobody no longer counts as a way to reach them.
      </p>
      <div className="mt-4 grid max-w-[980px] grid-cols-[260px_1fr] gap-8">
        <section aria-label="Out">
          <h2 className="text-[15px]">Out</h2>
          <p className="mt-1 text-soft">
            Every address of which it is not known whether it reaches anybody, one a line.
          </p>
          <a
            href="/api/verifications/open"
            download
            className="mt-2 inline-flex rounded-[3px] border border-line bg-sheet px-2.5 py-1 font-medium hover:border-leaf"
          >
            Download as CSV
          </a>
        </section>
        <form
          aria-label="Back"
          onSubmit={(event) => {
            event.preventDefault();
            take.mutate(text, { onSuccess: () => setText("") });
          }}
        >
          <h2 className="text-[15px]">Back</h2>
          <p className="mt-1 text-soft">
            A table with headings: a column of addresses and one of results, as the verifier calls them.
          </p>
          <label className="mt-2 inline-flex cursor-pointer rounded-[3px] border border-line bg-sheet px-2.5 py-1 font-medium focus-within:border-leaf hover:border-leaf">
            Choose its file …
            <input
              type="file"
              accept=".csv,.txt,text/csv"
              className="sr-only"
              onChange={async (event) => setText((await event.target.files?.[0]?.text()) ?? "")}
            />
          </label>
          <textarea
            value={text}
            rows={9}
            onChange={(event) => setText(event.target.value)}
            placeholder={"email,result\ninfo@gull.example,deliverable"}
            aria-label="The verifier’s table"
            className="mt-2 w-full rounded-[3px] border border-line bg-white px-2 py-1 font-mono text-xs placeholder:text-soft"
          />
          <ErrorNote error={take.error} />
          <Button type="submit" look="main" disabled={!text.trim() || take.isPending}>
            {take.isPending ? "Reading …" : "Take it in"}
          </Button>
          {told && (
            <output className="mt-2 block">
              {Object.entries(told.taken).map(([result, number]) => (
                <span key={result} className="block">
                  <strong className="font-semibold">{count(number)}</strong> {WORDS[result] ?? result}
                </span>
              ))}
              {told.strange.length > 0 && (
                <span className="block text-acorn">
                  No address stands in line {told.strange.slice(0, 12).join(", ")}
                  {told.strange.length > 12 && " and more"}.
                </span>
              )}
            </output>
          )}
        </form>
      </div>
    </div>
  );
}
