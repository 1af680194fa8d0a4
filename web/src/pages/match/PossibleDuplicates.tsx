import type { ReactNode } from "react";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { Key } from "../../components/Key";
import { Phone } from "../../components/Phone";
import { count, distance, host } from "../../lib/format";
import { useTitle } from "../../lib/useTitle";
import { useTrades } from "../../queries/catalogue";
import { usePossibleDuplicates, useVerdict } from "../../queries/gathering";

type Doubt = Schemas["PossibleDuplicateResponse"];
type Side = Schemas["SideResponse"];

/** Pairs that may be one business, side by side; three keys decide them. */
export default function Doubts() {
  const query = usePossibleDuplicates();
  const verdict = useVerdict();
  const [passed, setPassed] = useState<ReadonlySet<string>>(new Set());
  const pairs = query.data?.pairs.filter((pair) => !passed.has(keyOf(pair))) ?? [];
  const pair = pairs[0];
  const decide = (choice: "one" | "two") => {
    if (pair && !verdict.isPending)
      verdict.mutate({ one: pair.left.id, other: pair.right.id, verdict: choice });
  };
  const pass = () => pair && setPassed(new Set([...passed, keyOf(pair)]));
  useTitle("Possible duplicates");
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLInputElement || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === "o") decide("one");
      if (event.key === "t") decide("two");
      if (event.key === "p") pass();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  });
  return (
    <div className="h-full overflow-y-auto px-8 py-5">
      <Link to="/sweeps" className="text-leaf-dark hover:underline">
        ← Sweeps
      </Link>
      <div className="mt-1 flex items-baseline gap-3">
        <h1 className="text-xl">Same business?</h1>
        {query.data && query.data.total > 0 && (
          <span className="text-soft">
            {count(query.data.total)} {query.data.total === 1 ? "pair" : "pairs"} to look at
          </span>
        )}
      </div>
      <ErrorNote error={query.error ?? verdict.error} />
      {query.data && !pair && (
        <Empty title={passed.size ? "You skipped the rest" : "No possible duplicates"}>
          {passed.size > 0 ? (
            <button type="button" className="text-leaf-dark underline" onClick={() => setPassed(new Set())}>
              Look at the {passed.size} again
            </button>
          ) : (
            "Everything found was clearly one business or clearly two."
          )}
        </Empty>
      )}
      {pair && (
        <>
          <Comparison pair={pair} />
          <p className="mt-4 flex items-center gap-3">
            <Button look="main" onClick={() => decide("one")} disabled={verdict.isPending}>
              One business <Key>o</Key>
            </Button>
            <Button onClick={() => decide("two")} disabled={verdict.isPending}>
              Two <Key>t</Key>
            </Button>
            <Button look="quiet" onClick={pass}>
              Skip <Key>p</Key>
            </Button>
            <span className="text-soft">Your answer applies to every later run; you can undo it.</span>
          </p>
        </>
      )}
    </div>
  );
}

const keyOf = (pair: Doubt): string => `${pair.left.id}/${pair.right.id}`;

const LINES: [keyof Side & string, string][] = [
  ["name", "Name"],
  ["trade", "Trade"],
  ["street", "Street"],
  ["town", "Town"],
  ["postcode", "Postcode"],
  ["phone", "Phone"],
  ["website", "Website"],
  ["email", "E-mail"],
];

function Comparison({ pair }: { pair: Doubt }) {
  const trades = useTrades().data ?? [];
  const shown = (side: Side, field: string): ReactNode => {
    const value = String(side[field as keyof Side] ?? "");
    if (field === "trade") return trades.find((trade) => trade.id === value)?.label ?? value;
    if (field === "website") return value ? host(value) : "";
    return field === "phone" && value ? <Phone number={value} /> : value;
  };
  return (
    <table className="mt-3 w-full max-w-[980px] table-fixed bg-sheet">
      <thead>
        <tr className="border-b border-line text-left">
          <th scope="col" className="w-28 px-3 py-1.5 font-normal text-soft">
            {Math.round(pair.probability * 100)} % one
          </th>
          {[pair.left, pair.right].map((side) => (
            <th key={side.id} scope="col" className="px-3 py-1.5 font-serif text-[15px]">
              <Link className="hover:underline" to={`/businesses?ids=${side.id}&b=${side.id}&state=all`}>
                {side.name}
              </Link>
            </th>
          ))}
          <th scope="col" className="w-24 px-3 py-1.5">
            <span className="sr-only">Agreement</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {LINES.map(([field, label]) => {
          const agree = pair.agree[field] ?? "";
          return (
            <tr key={field} className="border-b border-faint align-top">
              <th scope="row" className="px-3 py-1 text-left font-normal text-soft">
                {label}
              </th>
              {[pair.left, pair.right].map((side) => (
                <td
                  key={side.id}
                  className={`px-3 py-1 break-words ${agree === "differs" ? "font-semibold text-acorn" : ""}`}
                >
                  {shown(side, field) || <span className="text-soft">not known</span>}
                </td>
              ))}
              <td className="px-3 py-1 text-soft">{agree}</td>
            </tr>
          );
        })}
        <tr className="border-b border-faint">
          <th scope="row" className="px-3 py-1 text-left font-normal text-soft">
            Listed by
          </th>
          {[pair.left, pair.right].map((side) => (
            <td key={side.id} className="px-3 py-1">
              {side.sources.join(", ")}
            </td>
          ))}
          <td className="px-3 py-1 text-soft">
            {pair.metres === null ? "" : `${distance(pair.metres)} apart`}
          </td>
        </tr>
      </tbody>
    </table>
  );
}
