import { useState } from "react";
import type { Trade } from "../../api/client";

interface Props {
  trades: Trade[];
  chosen: string[];
  onChange: (chosen: string[]) => void;
}

/** Tick trades; typing narrows the list by any synonym. */
export default function TradePicker({ trades, chosen, onChange }: Props) {
  const [text, setText] = useState("");
  const needle = text.trim().toLowerCase();
  const matching = (trade: Trade): string | null => {
    if (!needle || trade.plural.toLowerCase().includes(needle)) return "";
    return trade.words.find((word) => word.includes(needle.replace(/s$/, ""))) ?? null;
  };
  const shown = trades.filter((trade) => matching(trade) !== null);
  const toggle = (id: string) =>
    onChange(chosen.includes(id) ? chosen.filter((item) => item !== id) : [...chosen, id]);
  return (
    <>
      <input
        type="search"
        value={text}
        onChange={(event) => setText(event.target.value)}
        placeholder="Search trades: optometrist, bikes …"
        aria-label="Search trades"
        className="w-full rounded-[3px] border border-line bg-white px-2 py-1 placeholder:text-soft"
      />
      <ul className="mt-1 grid max-h-44 grid-cols-2 gap-x-2 overflow-y-auto">
        {shown.map((trade) => (
          <li key={trade.id}>
            <label className="flex items-baseline gap-1.5 rounded-[3px] px-1 py-[3px] hover:bg-faint">
              <input
                type="checkbox"
                checked={chosen.includes(trade.id)}
                onChange={() => toggle(trade.id)}
                className="accent-leaf"
              />
              <span>
                {trade.plural}
                {matching(trade) && <span className="block text-xs text-soft">{matching(trade)}</span>}
              </span>
            </label>
          </li>
        ))}
      </ul>
      {shown.length === 0 && (
        <p className="mt-1 text-soft">No trade is known by “{text}”. Try another word for it.</p>
      )}
    </>
  );
}
