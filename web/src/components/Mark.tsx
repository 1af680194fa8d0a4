import type { Outcome } from "../lib/outcome";

/** One outcome as a shape: a gap is a full acorn-coloured block, unknown is hollow, ok a quiet dot. */
export default function Mark({ outcome, size = 12 }: { outcome: Outcome; size?: number }) {
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
