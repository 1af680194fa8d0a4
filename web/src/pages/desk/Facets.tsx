import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import { ChevronRightIcon } from "@heroicons/react/16/solid";
import { memo, type ReactNode, useState } from "react";
import type { CheckInfo, Service, Trade } from "../../api/client";
import Mark from "../../components/Mark";
import { type Change, setting, withParam } from "../../lib/filter";
import { count } from "../../lib/format";
import { MAIN_FACETS, useFacets } from "../../queries/businesses";
import Angles from "./Angles";
import CheckFacets from "./CheckFacets";
import Days from "./Days";
import FacetValues, { type Item } from "./FacetValues";
import { DAYS, itemsOf, USUAL_NUMBERS } from "./parts";
import RangeBox from "./RangeBox";

const SHOWN = 9;

interface Props {
  params: URLSearchParams;
  filter: Record<string, string>;
  live: boolean;
  checks: CheckInfo[];
  trades: Trade[];
  services: Service[];
  onChange: (change: Change) => void;
}

export default memo(function Facets({ params, filter, live, checks, trades, services, onChange }: Props) {
  const facets = useFacets(filter, MAIN_FACETS, live).data;
  const counts = facets?.counts ?? {};
  const groups = [...new Set(checks.map((check) => check.group))];

  const named = { trades, services, labels: facets?.labels ?? {} };
  const present = (key: string) => itemsOf(key, counts[key] ?? {}, params, named);
  const values = (key: string, items = present(key)) => (
    <FacetValues facet={key} items={items} counts={counts[key] ?? {}} params={params} onChange={onChange} />
  );
  const long = (key: string) => <Long items={present(key)} show={(items) => values(key, items)} />;
  const folded = (key: string, title: string) =>
    present(key).length > 0 && (
      <Folded title={title} open={params.has(key)} on={params.has(key)}>
        {values(key)}
      </Folded>
    );
  const dated = DAYS.some(([key]) => params.has(key));

  return (
    <aside
      aria-label="Filters"
      className="w-[214px] shrink-0 overflow-y-auto border-r border-line bg-sheet px-2 pt-1 pb-6"
    >
      <Angles filter={filter} services={services} live={live} onChange={onChange} />
      <Heading>Website</Heading>
      {values("website", itemsOf("website", { none: 0, listed: 0 }, params, named))}
      <Heading>Trade</Heading>
      {long("trade")}
      <Heading>Town</Heading>
      {long("town")}
      <Heading>Best offer</Heading>
      {long("offer")}
      <Heading>Ways to reach them</Heading>
      {values("has")}
      <Heading>Numbers</Heading>
      {USUAL_NUMBERS.map(([key, title]) => (
        <RangeBox
          key={key}
          title={title}
          value={params.get(key) ?? ""}
          spread={facets?.histograms[key]}
          onChange={(value) => onChange(setting(key, value))}
        />
      ))}
      <Heading>Stage</Heading>
      {folded("stage", "Stage")}
      {folded("tag", "Tags")}
      {folded("shortlist", "Shortlists")}
      {folded("source", "Listed by")}
      {folded("run", "Seen in run")}
      {folded("platform", "Made with")}
      <Folded title="First seen, audited" open={dated} on={dated}>
        {DAYS.map(([key, title]) => (
          <Days
            key={key}
            title={title}
            value={params.get(key) ?? ""}
            onChange={(value) => onChange(setting(key, value))}
          />
        ))}
      </Folded>
      <Heading>Findings</Heading>
      {groups.map((group) => {
        const mine = checks.filter((check) => check.group === group);
        const on = mine.some((check) => params.has(`check.${check.id}`));
        return (
          <Folded key={group} title={group} open={on} on={on} mark>
            <CheckFacets checks={mine} params={params} filter={filter} live={live} onChange={onChange} />
          </Folded>
        );
      })}
      <Heading>Excluded</Heading>
      {Object.entries(HELD_BACK).map(([state, words]) => (
        <button
          key={state}
          type="button"
          aria-pressed={params.get("state") === state}
          onClick={() => onChange((now) => withParam(now, "state", now.get("state") === state ? "" : state))}
          className="w-full rounded-[3px] px-1.5 py-[2px] text-left hover:bg-faint aria-pressed:bg-leaf-soft aria-pressed:font-semibold aria-pressed:text-leaf-dark"
        >
          {words}
        </button>
      ))}
    </aside>
  );
});

/** State that a filter can ask for → what stands in the list. */
const HELD_BACK = { rejected: "only rejected", relationship: "only clients & do-not-contact" };

function Heading({ children }: { children: ReactNode }) {
  return <h2 className="mt-3 mb-0.5 px-1.5 text-[13px]">{children}</h2>;
}

interface FoldedProps {
  title: string;
  open: boolean;
  on: boolean;
  mark?: boolean;
  children: ReactNode;
}

/** A part that is opened when it is wanted; what restricts inside of it shows on its title. */
function Folded({ title, open, on, mark = false, children }: FoldedProps) {
  return (
    <Disclosure defaultOpen={open}>
      <DisclosureButton
        className={`group flex w-full items-center gap-1 rounded-[3px] px-1 py-[2px] text-left hover:bg-faint ${on ? "font-semibold text-leaf-dark" : ""}`}
      >
        <ChevronRightIcon className="size-3 shrink-0 text-soft group-data-open:rotate-90" />
        <span className="min-w-0 flex-1 truncate">{title}</span>
        {mark && on && <Mark outcome="gap" size={8} />}
      </DisclosureButton>
      <DisclosurePanel className="mb-1 ml-2 border-l border-line pl-1">{children}</DisclosurePanel>
    </Disclosure>
  );
}

/** A list that shows its largest values, and the rest when asked. */
function Long({ items, show }: { items: Item[]; show: (items: Item[]) => ReactNode }) {
  const [whole, setWhole] = useState(false);
  const rest = items.length - SHOWN;
  return (
    <>
      {show(whole ? items : items.slice(0, SHOWN))}
      {rest > 0 && (
        <button
          type="button"
          onClick={() => setWhole(!whole)}
          className="px-1.5 text-xs text-leaf-dark hover:underline"
        >
          {whole ? "fewer" : `${count(rest)} more`}
        </button>
      )}
    </>
  );
}
