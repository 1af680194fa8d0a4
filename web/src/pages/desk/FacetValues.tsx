import { useState } from "react";
import Mark from "../../components/Mark";
import { type Change, type How, MANY, picked, picksOf } from "../../lib/filter";
import { count } from "../../lib/format";
import type { Outcome } from "../../lib/outcome";

export interface Item {
  value: string;
  label: string;
  outcome?: Outcome;
}

interface Props {
  facet: string;
  items: Item[];
  counts: Record<string, number>;
  params: URLSearchParams;
  onChange: (change: Change) => void;
}

const LOOKS: Record<How, string> = {
  any: "bg-leaf-soft font-semibold text-leaf-dark",
  must: "bg-leaf-soft font-semibold text-leaf-dark shadow-[inset_3px_0_0_var(--color-leaf)]",
  never: "text-soft line-through",
};

/** The values of a facet: any of these; on each also "must" (where several can be had at once) and "not". */
export default function FacetValues({ facet, items, counts, params, onChange }: Props) {
  const picks = picksOf(params, facet);
  const choose = (value: string, how: How) => onChange((now) => picked(now, facet, value, how));
  // the ways are there for the value that is pointed at or focused alone: on all of them they would be most of the page
  const [near, setNear] = useState("");
  return (
    <ul onMouseLeave={() => setNear("")}>
      {items.map(({ value, label, outcome }) => {
        const how = picks.get(value);
        const number = counts[value] ?? 0;
        return (
          <li
            key={value}
            onMouseEnter={() => setNear(value)}
            onFocus={() => setNear(value)}
            className="relative flex items-center"
          >
            <button
              type="button"
              aria-pressed={how === "any" || how === "must"}
              onClick={() => choose(value, how ?? "any")}
              title={label}
              className={`flex min-w-0 flex-1 items-center gap-1.5 rounded-[3px] px-1.5 py-[2px] text-left ${how ? LOOKS[how] : number ? "hover:bg-faint" : "text-soft hover:bg-faint"}`}
            >
              {outcome && <Mark outcome={outcome} size={10} />}
              <span className="min-w-0 flex-1 truncate">{label}</span>
              <span className={`font-normal text-soft ${near === value ? "invisible" : ""}`}>
                {count(number)}
              </span>
            </button>
            {near === value && (
              <span className="absolute right-0.5 flex gap-px">
                {MANY.has(facet) && (
                  <Way on={how === "must"} label={`must be: ${label}`} onClick={() => choose(value, "must")}>
                    must
                  </Way>
                )}
                <Way
                  on={how === "never"}
                  label={`must not be: ${label}`}
                  onClick={() => choose(value, "never")}
                >
                  not
                </Way>
              </span>
            )}
          </li>
        );
      })}
    </ul>
  );
}

function Way({
  on,
  label,
  onClick,
  children,
}: {
  on: boolean;
  label: string;
  onClick: () => void;
  children: string;
}) {
  return (
    <button
      type="button"
      aria-pressed={on}
      aria-label={label}
      onClick={onClick}
      className={`rounded-[3px] border px-1 text-xs leading-4 ${on ? "border-leaf bg-leaf text-white" : "border-line bg-sheet text-ink hover:border-leaf"}`}
    >
      {children}
    </button>
  );
}
