import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { XMarkIcon } from "@heroicons/react/16/solid";
import type { Service, Trade } from "../../api/client";
import { Button } from "../../components/Button";
import { type Change, cleared, setting } from "../../lib/filter";
import { count } from "../../lib/format";
import type { Clause } from "../../queries/businesses";
import ClauseEditor from "./ClauseEditor";

interface Props {
  clauses: Clause[];
  total: number | undefined;
  all: number | undefined;
  params: URLSearchParams;
  filter: Record<string, string>;
  trades: Trade[];
  services: Service[];
  onChange: (change: Change) => void;
}

/** The filter as a sentence with its count; each clause is changed, or taken away, where it is read. */
export default function Sentence({ clauses, total, all, onChange, ...rest }: Props) {
  return (
    <p aria-live="polite" className="mt-1.5 font-serif text-[14px] leading-snug">
      {clauses.length === 0 && "All businesses"}
      {clauses.map((clause, at) => (
        <span key={clause.key}>
          {at > 0 && " · "}
          <Popover as="span">
            <PopoverButton
              title="Change this part; Delete removes it"
              onKeyDown={(event) => event.key === "Delete" && onChange(setting(clause.key, ""))}
              className="inline rounded-[3px] text-left underline decoration-soft decoration-dotted underline-offset-[3px] hover:bg-faint data-open:bg-leaf-soft"
            >
              {at === 0 ? clause.text.charAt(0).toUpperCase() + clause.text.slice(1) : clause.text}
            </PopoverButton>
            <PopoverPanel
              anchor="bottom start"
              focus
              className="z-40 mt-1 w-[230px] border border-line bg-sheet p-1.5 text-[13px] shadow-lg"
            >
              <div className="max-h-64 overflow-y-auto">
                <ClauseEditor clause={clause.key} onChange={onChange} {...rest} />
              </div>
              <Button
                look="quiet"
                aria-label={`Remove: ${clause.text}`}
                onClick={() => onChange(setting(clause.key, ""))}
              >
                Remove
              </Button>
            </PopoverPanel>
          </Popover>
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
          onClick={() => onChange(cleared)}
          className="ml-1 inline-flex items-center align-middle font-sans text-[13px] text-leaf-dark hover:underline"
        >
          <XMarkIcon className="size-3.5" /> clear
        </button>
      )}
    </p>
  );
}
