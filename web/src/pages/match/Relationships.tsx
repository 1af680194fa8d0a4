import { useState } from "react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { count, when } from "../../lib/format";
import { marks } from "../../lib/marks";
import { useTitle } from "../../lib/useTitle";
import { useAddRelationships, useDeleteRelationship, useRelationships } from "../../queries/gathering";

const KINDS = [
  ["client", "Clients"],
  ["in conversation", "In conversation"],
  ["refused", "Refused"],
] as const;

/** Who is not to be audited or written to: clients, people in conversation, people who refused. */
export default function Relationships() {
  const query = useRelationships();
  const add = useAddRelationships();
  const drop = useDeleteRelationship();
  const [kind, setKind] = useState<string>("client");
  const [text, setText] = useState("");
  useTitle("Clients & do-not-contact");
  return (
    <div className="h-full overflow-y-auto px-8 py-5">
      <Link to="/sweeps" className="text-leaf-dark hover:underline">
        ← Sweeps
      </Link>
      <h1 className="mt-1 text-xl">Clients &amp; do-not-contact</h1>
      <p className="max-w-2xl text-soft">
        Businesses on these lists are excluded from audits and messages. They still count for coverage and
        comparisons.
      </p>
      <div className="mt-3 grid max-w-[1100px] grid-cols-[320px_1fr] gap-8">
        <form
          onSubmit={(event) => {
            event.preventDefault();
            add.mutate({ kind, text }, { onSuccess: (result) => setText(result.refused.join("\n")) });
          }}
        >
          <fieldset className="flex gap-3">
            <legend className="sr-only">List</legend>
            {KINDS.map(([id, label]) => (
              <label key={id} className="flex items-center gap-1">
                <input
                  type="radio"
                  name="kind"
                  checked={kind === id}
                  onChange={() => setKind(id)}
                  className="accent-leaf"
                />
                {label}
              </label>
            ))}
          </fieldset>
          <label className="mt-2 block">
            <span className="text-soft">One per line: website, e-mail, phone, or name and town</span>
            <textarea
              {...marks(add.error, "relationship", "text")}
              value={text}
              rows={8}
              onChange={(event) => setText(event.target.value)}
              placeholder={"harbourvets.example\n(03) 5550 1234\nGull Florist, Gannet Bay"}
              className="mt-0.5 w-full rounded-[3px] border border-line bg-white px-2 py-1 placeholder:text-soft"
            />
          </label>
          <p className="mt-1 flex items-center gap-3">
            <Button type="submit" look="main" disabled={!text.trim() || add.isPending}>
              Add
            </Button>
            <label className="cursor-pointer text-leaf-dark underline">
              From a file
              <input
                type="file"
                accept=".csv,.txt"
                className="sr-only"
                onChange={async (event) => {
                  const file = event.target.files?.[0];
                  if (file) setText(await file.text());
                  event.target.value = "";
                }}
              />
            </label>
          </p>
          <ErrorNote error={add.error ?? drop.error} />
          {add.data && (
            <p className="mt-1" role="status">
              {count(add.data.businesses)} businesses changed.
              {add.data.refused.length > 0 &&
                ` ${add.data.refused.length === 1 ? "1 line" : `${add.data.refused.length} lines`} could not be read, left above.`}
            </p>
          )}
        </form>
        <div>
          {query.data?.entries.length === 0 && (
            <Empty title="The lists are empty">
              Add your clients first, so that no sweep offers them to you.
            </Empty>
          )}
          <table className="w-full bg-sheet">
            <tbody>
              {query.data?.entries.map((entry) => (
                <tr key={entry.id} className="border-b border-faint">
                  <td className="px-3 py-1">{entry.shown}</td>
                  <td className="whitespace-nowrap px-3 py-1 text-soft">by {entry.identifier_type}</td>
                  <td className="whitespace-nowrap px-3 py-1">{entry.kind}</td>
                  <td className="whitespace-nowrap px-3 py-1 text-soft">{when(entry.at)}</td>
                  <td className="px-3 py-1 text-right">
                    <Button look="quiet" onClick={() => drop.mutate(entry.id)}>
                      Remove
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </div>
    </div>
  );
}
