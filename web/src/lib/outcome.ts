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

export interface GroupState {
  group: string;
  outcome: Outcome;
  gaps: number;
  text: string;
}

const WORST: Outcome[] = ["gap", "partial", "unknown", "ok", "not applicable", "not asked"];

/** One state a group of checks: the worst that is known; unknown outranks ok, since not all of it is known. */
export function groupStates(strip: string, checks: CheckInfo[]): GroupState[] {
  const groups = new Map<string, { title: string; outcome: Outcome }[]>();
  checks.forEach((check, index) => {
    const list = groups.get(check.group) ?? [];
    list.push({ title: check.title, outcome: BY_CODE[strip[index] ?? "-"] ?? "not asked" });
    groups.set(check.group, list);
  });
  return [...groups].map(([group, list]) => {
    const outcome = WORST.find((candidate) => list.some((item) => item.outcome === candidate)) ?? "not asked";
    const parts = WORST.map((candidate) => {
      const titles = list.filter((item) => item.outcome === candidate).map((item) => item.title);
      return titles.length ? `${candidate}: ${titles.join(", ")}` : "";
    }).filter(Boolean);
    const gaps = list.filter((item) => item.outcome === "gap").length;
    return { group, outcome, gaps, text: `${group} – ${parts.join("; ")}` };
  });
}
