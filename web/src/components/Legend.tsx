import type { Outcome } from "../lib/outcome";
import Mark from "./Mark";

const WORDS: [Outcome, string][] = [
  ["gap", "gap: what you can sell"],
  ["partial", "partial"],
  ["ok", "ok"],
  ["unknown", "unknown: never counted as missing"],
  ["not applicable", "does not apply"],
];

export default function Legend() {
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
