import filters from "../api/filters.json";

/** The filter lives in the address: these are the parameters that belong to it, as the application names them. */
export const PICKED = filters.facets;
const OWN = new Set([...filters.others, ...filters.facets, ...filters.ranges]);
const BARRED = new Set(filters.barred);
/** Of these a business can have several at once, so that two can be demanded together. */
export const MANY = new Set(filters.many);

export type How = "any" | "must" | "never";
const MARKS: Record<How, string> = filters.marks;

const isFilterKey = (key: string): boolean => OWN.has(key) || key.startsWith("check.");

export function filterOf(params: URLSearchParams): Record<string, string> {
  const found: Record<string, string> = {};
  for (const [key, value] of params) if (isFilterKey(key) && value) found[key] = value;
  return found;
}

const separatorOf = (key: string): string => (BARRED.has(key) ? "|" : ",");

/** What is chosen of a facet: value → how. */
export function picksOf(params: URLSearchParams, key: string): Map<string, How> {
  const found = new Map<string, How>();
  for (const part of (params.get(key) ?? "").split(separatorOf(key)).filter(Boolean)) {
    const how: How = part.startsWith(MARKS.must) ? "must" : part.startsWith(MARKS.never) ? "never" : "any";
    found.set(how === "any" ? part : part.slice(1), how);
  }
  return found;
}

/** Chooses one value of a facet in one way, or takes it back if it was chosen so; single-valued facets are replaced. */
export function picked(
  params: URLSearchParams,
  key: string,
  value: string,
  how: How = "any",
  single = false,
): URLSearchParams {
  const picks = picksOf(params, key);
  const same = picks.get(value) === how;
  if (single) picks.clear();
  if (same) picks.delete(value);
  else picks.set(value, how);
  return withParam(params, key, [...picks].map(([item, way]) => MARKS[way] + item).join(separatorOf(key)));
}

/** How an address becomes another. It is applied to the address as it is by then, so that of two quick clicks none is lost. */
export type Change = (now: URLSearchParams) => URLSearchParams;

export const setting =
  (key: string, value: string): Change =>
  (now) =>
    withParam(now, key, value);

export function withParam(params: URLSearchParams, key: string, value: string): URLSearchParams {
  const next = new URLSearchParams(params);
  if (value) next.set(key, value);
  else next.delete(key);
  return next;
}

/** The parameters of another filter in place of this one's; what else the address holds stays. */
export function replaced(params: URLSearchParams, filter: Record<string, string>): URLSearchParams {
  const next = cleared(params);
  for (const [key, value] of Object.entries(filter)) next.set(key, value);
  return next;
}

export const sameFilter = (a: Record<string, string>, b: Record<string, string>): boolean => {
  const keys = Object.keys(a);
  return keys.length === Object.keys(b).length && keys.every((key) => a[key] === b[key]);
};

export function cleared(params: URLSearchParams): URLSearchParams {
  const next = new URLSearchParams(params);
  for (const key of [...next.keys()]) if (isFilterKey(key)) next.delete(key);
  return next;
}
