import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import type { CheckInfo } from "../../api/client";
import Mark from "../../components/Mark";
import type { Change } from "../../lib/filter";
import { count } from "../../lib/format";
import { useFacets } from "../../queries/businesses";
import FacetValues from "./FacetValues";
import { outcomeItems } from "./parts";

interface Props {
  checks: CheckInfo[];
  params: URLSearchParams;
  filter: Record<string, string>;
  live: boolean;
  onChange: (change: Change) => void;
}

/** The checks of one group with their gaps; counted only while the group is open. */
export default function CheckFacets({ checks, params, filter, live, onChange }: Props) {
  const of = checks.map((check) => `check.${check.id}`).join(",");
  const counts = useFacets(filter, of, live).data?.counts ?? {};
  return checks.map((check) => {
    const facet = `check.${check.id}`;
    const on = params.has(facet);
    return (
      <Disclosure key={check.id} defaultOpen={on}>
        <DisclosureButton
          title={check.why}
          className={`flex w-full items-center gap-1.5 rounded-[3px] px-1.5 py-[2px] text-left hover:bg-faint ${on ? "font-semibold text-leaf-dark" : ""}`}
        >
          <span className="min-w-0 flex-1 truncate">{check.title}</span>
          <span className="flex items-center gap-1 font-normal text-acorn" title="gaps">
            <Mark outcome="gap" size={8} />
            {count(counts[facet]?.gap ?? 0)}
          </span>
        </DisclosureButton>
        <DisclosurePanel className="ml-2 border-l border-line pl-1">
          <FacetValues
            facet={facet}
            items={outcomeItems}
            counts={counts[facet] ?? {}}
            params={params}
            onChange={onChange}
          />
        </DisclosurePanel>
      </Disclosure>
    );
  });
}
