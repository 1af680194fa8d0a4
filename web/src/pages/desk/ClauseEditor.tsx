import type { Service, Trade } from "../../api/client";
import { type Change, setting } from "../../lib/filter";
import { useFacets } from "../../queries/businesses";
import Days from "./Days";
import FacetValues from "./FacetValues";
import { DAYS, itemsOf, NUMBERS, outcomeItems, TEXTS } from "./parts";
import RangeBox from "./RangeBox";

interface Props {
  /** The parameter of the address that the clause stands for. */
  clause: string;
  params: URLSearchParams;
  filter: Record<string, string>;
  trades: Trade[];
  services: Service[];
  onChange: (change: Change) => void;
}

/** What sets one part of the filter, beside the words that say it. */
export default function ClauseEditor({ clause, params, filter, trades, services, onChange }: Props) {
  const facets = useFacets(filter, clause, false).data;
  const value = params.get(clause) ?? "";
  const set = (next: string) => onChange(setting(clause, next));
  const title = new Map([...NUMBERS, ...DAYS, ...TEXTS]).get(clause) ?? "";
  if (TEXTS.some(([key]) => key === clause))
    return (
      <input
        defaultValue={value}
        aria-label={title}
        onKeyDown={(event) => event.key === "Enter" && set(event.currentTarget.value.trim())}
        onBlur={(event) => set(event.target.value.trim())}
        className={`w-full box`}
      />
    );
  if (DAYS.some(([key]) => key === clause)) return <Days title={title} value={value} onChange={set} />;
  if (title)
    return <RangeBox title={title} value={value} spread={facets?.histograms[clause]} onChange={set} />;
  if (["within", "ids", "state"].includes(clause)) return null; // set elsewhere: here they can only be taken away
  const counts = facets?.counts[clause] ?? {};
  const items = clause.startsWith("check.")
    ? outcomeItems
    : itemsOf(clause, counts, params, { trades, services, labels: facets?.labels ?? {} });
  return <FacetValues facet={clause} items={items} counts={counts} params={params} onChange={onChange} />;
}
