import { useMemo, useState } from "react";
import type { Trade } from "../../api/client";
import OwnTrades from "./OwnTrades";

interface Props {
  trades: Trade[];
  chosen: string[];
  onChange: (chosen: string[]) => void;
}

const MOST_SHOWN = 40;

/** A trade that carries figures of our own stands first; presets of the open map stand under their group. */
const isOwn = (trade: Trade): boolean => !trade.parent;

/** Tick trades; typing narrows the tree by any synonym; a wider trade takes its narrower ones along. */
export default function TradePicker({ trades, chosen, onChange }: Props) {
  const [text, setText] = useState("");
  const needle = text.trim().toLowerCase().replace(/s$/, "");
  const children = useMemo(() => {
    const found = new Map<string, Trade[]>();
    for (const trade of trades)
      if (trade.parent) found.set(trade.parent, [...(found.get(trade.parent) ?? []), trade]);
    return found;
  }, [trades]);
  const ids = useMemo(() => new Set(trades.map((trade) => trade.id)), [trades]);
  const groups = [...children.keys()].filter((parent) => !ids.has(parent));
  const matching = (trade: Trade): string | null => {
    if (!needle || trade.plural.toLowerCase().includes(needle) || trade.label.toLowerCase().includes(needle))
      return "";
    const match = [...trade.words, ...trade.terms].find((word) => word.toLowerCase().includes(needle));
    return match ?? trade.codes.find((code) => needle.length > 2 && code.startsWith(needle)) ?? null;
  };
  const below = (id: string): string[] =>
    (children.get(id) ?? []).flatMap((child) => [child.id, ...below(child.id)]);
  const toggle = (id: string) =>
    onChange(
      chosen.includes(id)
        ? chosen.filter((item) => item !== id)
        : [...new Set([...chosen, id, ...below(id)])],
    );
  const found = needle ? trades.filter((trade) => matching(trade) !== null) : [];
  const line = (trade: Trade) => (
    <li key={trade.id}>
      <label className="flex items-baseline gap-1.5 rounded-[3px] px-1 py-[3px] hover:bg-faint">
        <input
          type="checkbox"
          checked={chosen.includes(trade.id)}
          onChange={() => toggle(trade.id)}
          className="accent-leaf"
        />
        <span title={trade.codes.length > 0 ? `NAICS ${trade.codes.join(", ")}` : undefined}>
          {trade.plural}
          {needle && matching(trade) && <span className="block text-xs text-soft">{matching(trade)}</span>}
        </span>
      </label>
      {!needle && children.has(trade.id) && (
        <ul className="ml-4">{children.get(trade.id)?.map((child) => line(child))}</ul>
      )}
    </li>
  );
  const elsewhere = trades.filter((trade) => chosen.includes(trade.id) && !isOwn(trade));
  return (
    <>
      <input
        type="search"
        value={text}
        onChange={(event) => setText(event.target.value)}
        placeholder={`Search ${trades.length || ""} trades: optometrist, bikes …`}
        aria-label="Search trades"
        className="w-full rounded-[3px] border border-line bg-white px-2 py-1 placeholder:text-soft"
      />
      <div className="mt-1 max-h-52 overflow-y-auto">
        {needle ? (
          <ul className="grid grid-cols-2 gap-x-2">{found.slice(0, MOST_SHOWN).map(line)}</ul>
        ) : (
          <>
            <ul className="grid grid-cols-2 gap-x-2">{trades.filter(isOwn).map(line)}</ul>
            {groups.map((group) => (
              <details key={group}>
                <summary className="cursor-pointer px-1 py-[3px] text-leaf-dark">
                  {group} ({children.get(group)?.length})
                </summary>
                <ul className="ml-2">{children.get(group)?.map(line)}</ul>
              </details>
            ))}
          </>
        )}
      </div>
      {found.length > MOST_SHOWN && (
        <p className="mt-1 text-soft">
          {MOST_SHOWN} of {found.length} are shown; type more of the word.
        </p>
      )}
      {needle && found.length === 0 && (
        <p className="mt-1 text-soft">No trade called “{text}”. Try another word for it, or add it below.</p>
      )}
      <OwnTrades
        trades={trades}
        named={found.length === 0 ? text.trim() : ""}
        onAdded={(id) => {
          setText("");
          onChange([...chosen, id]);
        }}
      />
      {elsewhere.length > 0 && (
        <p className="mt-1">
          {elsewhere.map((trade) => (
            <button
              key={trade.id}
              type="button"
              className="mr-2 underline"
              title="Remove"
              onClick={() => toggle(trade.id)}
            >
              {trade.plural} ×
            </button>
          ))}
        </p>
      )}
    </>
  );
}
