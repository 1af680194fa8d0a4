/** The filter lives in the address: these are the parameters that belong to it. */
const OWN = new Set(["q", "trade", "town", "website", "offer", "shortlist", "run", "state", "ids"]);

export const isFilterKey = (key: string): boolean => OWN.has(key) || key.startsWith("check.");

export function filterOf(params: URLSearchParams): Record<string, string> {
  const found: Record<string, string> = {};
  for (const [key, value] of params) if (isFilterKey(key) && value) found[key] = value;
  return found;
}

export const separatorOf = (key: string): string => (key === "town" ? "|" : ",");

export function chosenValues(params: URLSearchParams, key: string): string[] {
  return (params.get(key) ?? "").split(separatorOf(key)).filter(Boolean);
}

/** Adds or takes away one value of a facet; single-valued facets are replaced. */
export function toggled(
  params: URLSearchParams,
  key: string,
  value: string,
  single = false,
): URLSearchParams {
  const next = new URLSearchParams(params);
  const chosen = chosenValues(params, key);
  const has = chosen.includes(value);
  const values = single
    ? has
      ? []
      : [value]
    : has
      ? chosen.filter((item) => item !== value)
      : [...chosen, value];
  if (values.length) next.set(key, values.join(separatorOf(key)));
  else next.delete(key);
  return next;
}

export function cleared(params: URLSearchParams): URLSearchParams {
  const next = new URLSearchParams(params);
  for (const key of [...next.keys()]) if (isFilterKey(key)) next.delete(key);
  return next;
}
