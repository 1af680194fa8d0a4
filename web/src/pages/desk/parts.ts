import type { Service, Trade } from "../../api/client";
import { picksOf } from "../../lib/filter";
import type { Outcome } from "../../lib/outcome";
import type { Item } from "./FacetValues";

/** What a filter's parts are called, where they are set and where they are read. */
export const NUMBERS: [string, string][] = [
  ["score", "Score"],
  ["value", "Value"],
  ["reviews", "Reviews"],
  ["rating", "Rating"],
  ["distance", "Metres away"],
  ["gaps", "Gaps found"],
  ["reach", "Reach"],
  ["fit", "Fit"],
];
export const USUAL_NUMBERS = NUMBERS.slice(0, 6);
export const DAYS: [string, string][] = [
  ["seen", "New within days"],
  ["audited", "Audited within days"],
];
export const TEXTS: [string, string][] = [
  ["q", "Name, town or site"],
  ["pages", "On their pages"],
];

interface Known {
  trades: Trade[];
  services: Service[];
  /** facet → value → what it is called, where the application has a name for it. */
  labels: Record<string, Record<string, string>>;
}

/** What it is called to have none: facet → words for the value "?". */
const NONE: Record<string, string> = {
  trade: "no known trade",
  town: "no known town",
  offer: "none",
  platform: "no platform detected",
};

function labelOf(key: string, value: string, { trades, services, labels }: Known): string {
  if (value === "?") return NONE[key] ?? "not known";
  if (key === "trade") return trades.find((trade) => trade.id === value)?.plural ?? value;
  if (key === "offer") return services.find((service) => service.id === value)?.title ?? value;
  if (key === "run") return `run ${value}`;
  if (key === "website") return value === "none" ? "none listed" : value;
  return labels[key]?.[value] ?? value;
}

const OUTCOMES: Outcome[] = ["gap", "partial", "ok", "unknown", "not applicable"];

/** The outcomes of a check, to choose among. */
export const outcomeItems: Item[] = OUTCOMES.map((outcome) => ({ value: outcome, label: outcome, outcome }));

/** The values of a facet that are there or chosen, the most frequent first. */
export function itemsOf(
  key: string,
  counts: Record<string, number>,
  params: URLSearchParams,
  known: Known,
): Item[] {
  const there = Object.entries(counts).sort((a, b) => b[1] - a[1]);
  const values = new Set([...there.map(([value]) => value), ...picksOf(params, key).keys()]);
  return [...values].filter(Boolean).map((value) => ({ value, label: labelOf(key, value, known) }));
}
