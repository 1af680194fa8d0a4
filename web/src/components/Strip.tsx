import type { SVGAttributes } from "react";
import { type Group, type Outcome, wordsOf, worstOf } from "../lib/outcome";

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
export default function Strip({ strip, groups }: { strip: string; groups: Group[] }) {
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
