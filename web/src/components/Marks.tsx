import type { SVGAttributes } from "react";
import { type Group, type Outcome, wordsOf, worstOf } from "../lib/outcome";

/** One outcome as a shape: a gap is a full acorn-coloured block, unknown is hollow, ok a quiet dot. */
export function Mark({ outcome, size = 12 }: { outcome: Outcome; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 12 12" aria-hidden="true" className="shrink-0">
      {outcome === "gap" && (
        <rect x="0.5" y="0.5" width="11" height="11" rx="1.5" fill="var(--color-acorn)" />
      )}
      {outcome === "partial" && (
        <>
          <rect
            x="1"
            y="1"
            width="10"
            height="10"
            rx="1.5"
            fill="none"
            stroke="var(--color-acorn)"
            strokeWidth="1.3"
          />
          <path d="M1 11 L11 1 V9.5 Q11 11 9.5 11 Z" fill="var(--color-acorn)" />
        </>
      )}
      {outcome === "ok" && <circle cx="6" cy="6" r="1.9" fill="var(--color-mark-ok)" />}
      {outcome === "unknown" && (
        <circle
          cx="6"
          cy="6"
          r="4"
          fill="none"
          stroke="var(--color-mark-unknown)"
          strokeWidth="1.2"
          strokeDasharray="2 1.4"
        />
      )}
      {outcome === "not applicable" && (
        <path d="M3.5 6 H8.5" stroke="var(--color-mark-none)" strokeWidth="1.2" />
      )}
    </svg>
  );
}

const CELL = 16;
const MIDDLE = 10;

/** The same marks as `Mark`, as a path around (x, MIDDLE): all of one look in a row are drawn as one. */
const DRAWN: { outcome: Outcome; look: SVGAttributes<SVGPathElement>; path: (x: number) => string }[] = [
  {
    outcome: "gap",
    look: { fill: "var(--color-acorn)" },
    path: (x) => `M${x - 5.5} 4.5h11v11h-11z`,
  },
  {
    outcome: "partial",
    look: { fill: "none", stroke: "var(--color-acorn)", strokeWidth: 1.3 },
    path: (x) => `M${x - 5} 5h10v10h-10z`,
  },
  {
    outcome: "partial",
    look: { fill: "var(--color-acorn)" },
    path: (x) => `M${x - 5} 15L${x + 5} 5V15z`,
  },
  {
    outcome: "ok",
    look: { fill: "var(--color-mark-ok)" },
    path: (x) => `M${x - 1.9} ${MIDDLE}a1.9 1.9 0 1 0 3.8 0a1.9 1.9 0 1 0 -3.8 0`,
  },
  {
    outcome: "unknown",
    look: { fill: "none", stroke: "var(--color-mark-unknown)", strokeWidth: 1.2, strokeDasharray: "2 1.4" },
    path: (x) => `M${x - 4} ${MIDDLE}a4 4 0 1 0 8 0a4 4 0 1 0 -8 0`,
  },
  {
    outcome: "not applicable",
    look: { fill: "none", stroke: "var(--color-mark-none)", strokeWidth: 1.2 },
    path: (x) => `M${x - 2.5} ${MIDDLE}h5`,
  },
];

/** The audit strip: one cell a group of checks; a handful of paths a row, since there are thousands of cells in view. */
export function Strip({ strip, groups }: { strip: string; groups: Group[] }) {
  const states = groups.map((group) => worstOf(strip, group));
  const gaps = groups.filter((_, at) => states[at] === "gap").map(({ group }) => group);
  return (
    <svg
      role="img"
      aria-label={gaps.length ? `gaps in ${gaps.join(", ")}` : "no gaps known"}
      width={groups.length * CELL}
      height={2 * MIDDLE}
      onMouseMove={(event) => {
        const over = groups[Math.floor(event.nativeEvent.offsetX / CELL)];
        const row = event.currentTarget.parentElement;
        if (over && row) row.title = wordsOf(strip, over);
      }}
      className="block"
    >
      {DRAWN.map(({ outcome, look, path }, key) => {
        const drawn = states.map((state, at) => (state === outcome ? path((at + 0.5) * CELL) : "")).join("");
        // biome-ignore lint/suspicious/noArrayIndexKey: the looks are fixed
        return drawn && <path key={key} d={drawn} {...look} />;
      })}
    </svg>
  );
}

const WORDS: [Outcome, string][] = [
  ["gap", "gap: what you can sell"],
  ["partial", "partial"],
  ["ok", "ok"],
  ["unknown", "unknown: never counted as missing"],
  ["not applicable", "does not apply"],
];

export function Legend() {
  return (
    <ul className="flex flex-wrap gap-x-4 gap-y-1">
      {WORDS.map(([outcome, text]) => (
        <li key={outcome} className="flex items-center gap-1.5">
          <Mark outcome={outcome} /> {text}
        </li>
      ))}
    </ul>
  );
}
