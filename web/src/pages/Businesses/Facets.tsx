import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import { ChevronRightIcon } from "@heroicons/react/16/solid";
import { memo, type ReactNode, useState } from "react";
import type { CheckInfo, Service, Trade } from "../../api/client";
import { Mark } from "../../components/Marks";
import { picksOf, withParam } from "../../lib/filter";
import { count } from "../../lib/format";
import { useFacets } from "../../queries/businesses";
import Angles from "./Angles";
import CheckFacets from "./CheckFacets";
import FacetValues, { type Item } from "./FacetValues";
import RangeBox from "./RangeBox";

const SHOWN = 9;
const MAIN = "trade,town,website,offer,platform,stage,has,tag,source,shortlist,run";
const NUMBERS: [string, string][] = [
  ["score", "Score"],
  ["value", "Value"],
  ["reviews", "Reviews"],
  ["rating", "Rating"],
  ["distance", "Metres away"],
  ["gaps", "Gaps found"],
];

interface Props {
  params: URLSearchParams;
  filter: Record<string, string>;
  live: boolean;
  checks: CheckInfo[];
  trades: Trade[];
  services: Service[];
  onChange: (next: URLSearchParams) => void;
}

export default memo(function Facets({ params, filter, live, checks, trades, services, onChange }: Props) {
  const facets = useFacets(filter, MAIN, live).data;
  const counts = facets?.counts ?? {};
  const groups = [...new Set(checks.map((check) => check.group))];

  const present = (key: string, label: (value: string) => string = (value) => value): Item[] => {
    const known = Object.entries(counts[key] ?? {}).sort((a, b) => b[1] - a[1]);
    const values = new Set([...known.map(([value]) => value), ...picksOf(params, key).keys()]);
    return [...values].filter(Boolean).map((value) => ({ value, label: label(value) }));
  };
  const values = (key: string, items: Item[]) => (
    <FacetValues facet={key} items={items} counts={counts[key] ?? {}} params={params} onChange={onChange} />
  );
  const named = (key: string) => (value: string) => facets?.labels[key]?.[value] ?? value;
  const folded = (key: string, title: string, items: Item[]) =>
    items.length > 0 && (
      <Folded title={title} open={params.has(key)} on={params.has(key)}>
        {values(key, items)}
      </Folded>
    );

  return (
    <aside
      aria-label="Filters"
      className="w-[214px] shrink-0 overflow-y-auto border-r border-line bg-sheet px-2 pt-1 pb-6"
    >
      <Angles filter={filter} params={params} services={services} live={live} onChange={onChange} />
      <Heading>Website</Heading>
      {values("website", [
        { value: "none", label: "none listed" },
        { value: "listed", label: "listed" },
      ])}
      <Heading>Trade</Heading>
      <Long
        items={present("trade", (value) => trades.find((trade) => trade.id === value)?.plural ?? value)}
        show={(items) => values("trade", items)}
      />
      <Heading>Town</Heading>
      <Long items={present("town")} show={(items) => values("town", items)} />
      <Heading>Best offer</Heading>
      <Long
        items={present("offer", (value) => services.find((s) => s.id === value)?.title ?? value)}
        show={(items) => values("offer", items)}
      />
      <Heading>Ways to reach them</Heading>
      {values("has", present("has"))}
      <Heading>Numbers</Heading>
      {NUMBERS.map(([key, title]) => (
        <RangeBox
          key={key}
          title={title}
          value={params.get(key) ?? ""}
          spread={facets?.histograms[key]}
          onChange={(value) => onChange(withParam(params, key, value))}
        />
      ))}
      <Heading>Where it stands</Heading>
      {folded("stage", "Stage", present("stage"))}
      {folded("tag", "Tags", present("tag"))}
      {folded("shortlist", "Shortlists", present("shortlist", named("shortlist")))}
      {folded("source", "Listed by", present("source", named("source")))}
      {folded(
        "run",
        "Seen in run",
        present("run", (value) => `run ${value}`),
      )}
      {folded("platform", "Made with", present("platform"))}
      <Folded
        title="First seen, audited"
        open={params.has("seen") || params.has("audited")}
        on={params.has("seen") || params.has("audited")}
      >
        <Days
          title="New within days"
          value={params.get("seen") ?? ""}
          onChange={(value) => onChange(withParam(params, "seen", value))}
        />
        <Days
          title="Audited within days"
          value={params.get("audited") ?? ""}
          onChange={(value) => onChange(withParam(params, "audited", value))}
        />
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
      <Heading>Rejected</Heading>
      <button
        type="button"
        aria-pressed={params.get("state") === "rejected"}
        onClick={() =>
          onChange(withParam(params, "state", params.get("state") === "rejected" ? "" : "rejected"))
        }
        className="w-full rounded-[3px] px-1.5 py-[2px] text-left hover:bg-faint aria-pressed:bg-leaf-soft aria-pressed:font-semibold aria-pressed:text-leaf-dark"
      >
        show only these
      </button>
    </aside>
  );
});

export function Heading({ children }: { children: ReactNode }) {
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

function Days({
  title,
  value,
  onChange,
}: {
  title: string;
  value: string;
  onChange: (value: string) => void;
}) {
  const days = value.replace("..", "");
  return (
    <label className="flex items-center justify-between gap-1 px-1 py-[2px]">
      {title}
      <input
        defaultValue={days}
        key={days}
        inputMode="numeric"
        onBlur={(event) =>
          onChange(/^\d+$/.test(event.target.value.trim()) ? `..${event.target.value.trim()}` : "")
        }
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        className="w-12 rounded-[3px] border border-line bg-white px-1 text-right"
      />
    </label>
  );
}
