import { useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import { count } from "../../lib/format";

interface Props {
  title: string;
  /** "least..most", either may be missing. */
  value: string;
  spread: Schemas["Histogram"] | undefined;
  onChange: (value: string) => void;
}

const CLEAN = /^\d*\.?\d*$/;

/** A number's bounds over a small picture of how it is spread; a click on a bar sets the least. */
export default function RangeBox({ title, value, spread, onChange }: Props) {
  const [low = "", high = ""] = value.split("..");
  const [least, setLeast] = useState(low);
  const [most, setMost] = useState(high);
  useEffect(() => {
    setLeast(low);
    setMost(high);
  }, [low, high]);
  const set = (from: string, to: string) => {
    if (CLEAN.test(from) && CLEAN.test(to)) onChange(from || to ? `${from}..${to}` : "");
  };
  const bins = spread?.bins ?? [];
  const tallest = Math.max(1, ...bins);
  const step = spread ? (spread.high - spread.low) / bins.length : 0;
  const inside = (at: number) => {
    const from = (spread?.low ?? 0) + at * step;
    return (!low || from + step > Number(low)) && (!high || from < Number(high));
  };
  const field = (what: string, text: string, change: (text: string) => void) => (
    <input
      value={text}
      inputMode="decimal"
      aria-label={`${title}, ${what}`}
      placeholder={what}
      aria-invalid={!CLEAN.test(text)}
      onChange={(event) => change(event.target.value)}
      onBlur={() => set(least, most)}
      onKeyDown={(event) => event.key === "Enter" && set(least, most)}
      className="w-[52px] rounded-[3px] border border-line bg-white px-1 text-right placeholder:text-soft aria-invalid:border-alarm"
    />
  );
  return (
    <div className="px-1.5 py-1">
      <div className="flex items-center gap-1">
        <span className={`min-w-0 flex-1 truncate ${value ? "font-semibold text-leaf-dark" : ""}`}>
          {title}
        </span>
        {field("least", least, setLeast)}
        {field("most", most, setMost)}
      </div>
      {spread !== undefined && spread.known > 0 && (
        <div
          className="mt-0.5 flex h-[18px] items-end gap-px border-b border-line"
          title={`${count(spread.known)} known${spread.above ? `, ${count(spread.above)} above ${Math.round(spread.high)}` : ""}`}
        >
          {bins.map((number, at) => (
            <button
              // biome-ignore lint/suspicious/noArrayIndexKey: a bin is its place
              key={at}
              type="button"
              tabIndex={-1}
              aria-hidden="true"
              onClick={() => set(String(Math.round((spread.low + at * step) * 10) / 10), most)}
              className={`min-w-0 flex-1 ${inside(at) ? "bg-bar hover:bg-leaf" : "bg-faint hover:bg-line"}`}
              style={{ height: `${number ? Math.max(8, (100 * number) / tallest) : 0}%` }}
            />
          ))}
        </div>
      )}
    </div>
  );
}
