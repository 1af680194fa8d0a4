import { XMarkIcon } from "@heroicons/react/16/solid";
import { cleared, withParam } from "../../lib/filter";
import { count } from "../../lib/format";
import type { Clause } from "../../queries/businesses";

interface Props {
  clauses: Clause[];
  total: number | undefined;
  all: number | undefined;
  params: URLSearchParams;
  onChange: (next: URLSearchParams) => void;
}

/** The filter as a sentence with its count; each clause can be taken away where it is read. */
export default function Sentence({ clauses, total, all, params, onChange }: Props) {
  return (
    <p aria-live="polite" className="mt-1.5 font-serif text-[14px] leading-snug">
      {clauses.length === 0 && "Everything held"}
      {clauses.map((clause, at) => (
        <span key={clause.key}>
          {at > 0 && " · "}
          <button
            type="button"
            aria-label={`Take away: ${clause.text}`}
            title="Take this part away"
            onClick={() => onChange(withParam(params, clause.key, ""))}
            className="inline rounded-[3px] text-left hover:bg-faint hover:line-through"
          >
            {at === 0 ? clause.text.charAt(0).toUpperCase() + clause.text.slice(1) : clause.text}
          </button>
        </span>
      ))}
      :{" "}
      <strong data-testid="total" className="font-semibold">
        {total === undefined ? "…" : count(total)}
      </strong>{" "}
      <span className="text-soft">of {all === undefined ? "…" : count(all)}</span>{" "}
      {clauses.length > 0 && (
        <button
          type="button"
          onClick={() => onChange(cleared(params))}
          className="ml-1 inline-flex items-center align-middle font-sans text-[13px] text-leaf-dark hover:underline"
        >
          <XMarkIcon className="size-3.5" /> clear
        </button>
      )}
    </p>
  );
}
