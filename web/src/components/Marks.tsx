import type { CheckInfo } from "../api/client";
import { groupStates, type Outcome } from "../lib/outcome";

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
      {outcome === "ok" && <circle cx="6" cy="6" r="1.9" fill="#8b9182" />}
      {outcome === "unknown" && (
        <circle cx="6" cy="6" r="4" fill="none" stroke="#6d6f60" strokeWidth="1.2" strokeDasharray="2 1.4" />
      )}
      {outcome === "not applicable" && <path d="M3.5 6 H8.5" stroke="#b9b29d" strokeWidth="1.2" />}
    </svg>
  );
}

/** The audit strip: one cell a group of checks. */
export function Strip({ strip, checks }: { strip: string; checks: CheckInfo[] }) {
  const states = groupStates(strip, checks);
  const label = states.filter((state) => state.outcome === "gap").map((state) => state.group);
  return (
    <span
      role="img"
      aria-label={label.length ? `gaps in ${label.join(", ")}` : "no gaps known"}
      className="flex"
    >
      {states.map((state) => (
        <span key={state.group} title={state.text} className="flex h-5 w-[16px] items-center justify-center">
          <Mark outcome={state.outcome} />
        </span>
      ))}
    </span>
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
