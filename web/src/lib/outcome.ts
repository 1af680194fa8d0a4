import type { CheckInfo } from "../api/client";

export type Outcome = "gap" | "partial" | "ok" | "not applicable" | "unknown" | "not asked";

const BY_CODE: Record<string, Outcome> = {
  g: "gap",
  p: "partial",
  o: "ok",
  n: "not applicable",
  u: "unknown",
  "-": "not asked",
};

const WORST: Outcome[] = ["gap", "partial", "unknown", "ok", "not applicable", "not asked"];

export interface Group {
  group: string;
  /** Where its checks stand in a strip. */
  at: number[];
  titles: string[];
}

/** The groups of checks in their order. */
export function groupsOf(checks: CheckInfo[]): Group[] {
  const groups = new Map<string, Group>();
  checks.forEach((check, index) => {
    const known = groups.get(check.group) ?? { group: check.group, at: [], titles: [] };
    known.at.push(index);
    known.titles.push(check.title);
    groups.set(check.group, known);
  });
  return [...groups.values()];
}

const outcomeAt = (strip: string, index: number): Outcome => BY_CODE[strip[index] ?? "-"] ?? "not asked";

/** One state for a group: the worst that is known; unknown outranks ok, since not all of it is known. */
export function worstOf(strip: string, { at }: Group): Outcome {
  let worst = WORST.length - 1;
  for (const index of at) worst = Math.min(worst, WORST.indexOf(outcomeAt(strip, index)));
  return WORST[worst] ?? "not asked";
}

/** What stands behind a group's state: its checks by outcome, the worst first. */
export function wordsOf(strip: string, { group, at, titles }: Group): string {
  const parts = WORST.map((outcome) => {
    const here = titles.filter((_, place) => outcomeAt(strip, at[place] ?? 0) === outcome);
    return here.length ? `${outcome}: ${here.join(", ")}` : "";
  });
  return `${group} – ${parts.filter(Boolean).join("; ")}`;
}
