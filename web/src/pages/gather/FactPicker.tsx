import type { Schemas } from "../../api/client";
import { count } from "../../lib/format";

interface Props {
  facts: Schemas["FactFigure"][];
  chosen: string[];
  currency: string;
  onChange: (chosen: string[]) => void;
}

const NEEDS: Record<string, string> = { contacts: "website" };

/** What to find out of each business: how often it is found, what it takes, and where that figure comes from. */
export default function FactPicker({ facts, chosen, currency, onChange }: Props) {
  const toggle = (id: string) => {
    if (chosen.includes(id)) onChange(chosen.filter((item) => item !== id && NEEDS[item] !== id));
    else onChange([...new Set([...chosen, ...(NEEDS[id] ? [NEEDS[id]] : []), id])]);
  };
  if (facts.length === 0)
    return <p className="text-soft">Choose a trade to see what can be found out and how often.</p>;
  return (
    <ul>
      {facts.map((fact) => (
        <li key={fact.id}>
          <label className="flex items-baseline gap-1.5 rounded-[3px] px-1 py-[3px] hover:bg-faint">
            <input
              type="checkbox"
              checked={chosen.includes(fact.id)}
              onChange={() => toggle(fact.id)}
              className="accent-leaf"
            />
            <span className="min-w-0 flex-1">
              {fact.title} <span className="text-soft">– {fact.brings}</span>
            </span>
            <span className="text-right whitespace-nowrap text-soft" title={`Found for: ${fact.basis}`}>
              {fact.basis.startsWith("of") ? "" : "~"}
              {Math.round(fact.share * 100)} % · {count(fact.requests)} asked
              {fact.cost > 0 && ` · ${currency} ${fact.cost.toFixed(2)}`}
            </span>
          </label>
        </li>
      ))}
    </ul>
  );
}
