import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import { memo } from "react";
import type { CheckInfo, Service, Trade } from "../../api/client";
import { Mark } from "../../components/Marks";
import { chosenValues, toggled } from "../../lib/filter";
import { count } from "../../lib/format";
import type { Outcome } from "../../lib/outcome";
import { useFacets } from "../../queries/businesses";

const OUTCOMES: Outcome[] = ["gap", "partial", "ok", "unknown", "not applicable"];
const TOWNS_SHOWN = 9;

interface Props {
  params: URLSearchParams;
  filter: Record<string, string>;
  live: boolean;
  checks: CheckInfo[];
  trades: Trade[];
  services: Service[];
  onChange: (next: URLSearchParams) => void;
}

interface Item {
  value: string;
  label: string;
  outcome?: Outcome;
}

export default memo(function Facets({ params, filter, live, checks, trades, services, onChange }: Props) {
  const facets = useFacets(filter, live);
  const counts = facets.data?.counts ?? {};
  const groups = [...new Set(checks.map((check) => check.group))];

  const list = (key: string, items: Item[], single = false) => (
    <ul>
      {items.map((item) => {
        const chosen = chosenValues(params, key).includes(item.value);
        const number = counts[key]?.[item.value] ?? 0;
        return (
          <li key={item.value}>
            <button
              type="button"
              aria-pressed={chosen}
              onClick={() => onChange(toggled(params, key, item.value, single))}
              className={`flex w-full items-center gap-1.5 rounded-[3px] px-1.5 py-[2px] text-left ${chosen ? "bg-leaf-soft font-semibold text-leaf-dark" : number ? "hover:bg-faint" : "text-soft hover:bg-faint"}`}
            >
              {item.outcome && <Mark outcome={item.outcome} size={10} />}
              <span className="min-w-0 flex-1 truncate">{item.label}</span>
              <span className="text-soft">{count(number)}</span>
            </button>
          </li>
        );
      })}
    </ul>
  );

  const present = (key: string): string[] => {
    const known = Object.entries(counts[key] ?? {}).sort((a, b) => b[1] - a[1]);
    return [...new Set([...known.map(([value]) => value), ...chosenValues(params, key)])];
  };
  const tradeItems = present("trade").map((value) => ({
    value,
    label: trades.find((trade) => trade.id === value)?.plural ?? value,
  }));
  const towns = present("town").filter(Boolean);
  const offers = present("offer").filter(Boolean);

  return (
    <aside
      aria-label="Filters"
      className="w-[206px] shrink-0 overflow-y-auto border-r border-line bg-sheet px-2.5 pt-2 pb-6"
    >
      <Heading>Website</Heading>
      {list(
        "website",
        [
          { value: "none", label: "none listed" },
          { value: "listed", label: "listed" },
        ],
        true,
      )}
      <Heading>Trade</Heading>
      {list("trade", tradeItems)}
      <Heading>Town</Heading>
      {list(
        "town",
        towns.slice(0, TOWNS_SHOWN).map((value) => ({ value, label: value })),
      )}
      {towns.length > TOWNS_SHOWN && (
        <p className="px-1.5 text-xs text-soft">
          and {towns.length - TOWNS_SHOWN} more: search for them by name
        </p>
      )}
      <Heading>Best offer</Heading>
      {list(
        "offer",
        offers.map((value) => ({ value, label: services.find((s) => s.id === value)?.title ?? value })),
      )}
      {groups.map((group) => {
        const mine = checks.filter((check) => check.group === group);
        const active = mine.some((check) => params.has(`check.${check.id}`));
        return (
          <div key={group}>
            <Heading>{group}</Heading>
            {mine.map((check) => (
              <Disclosure key={check.id} defaultOpen={params.has(`check.${check.id}`)}>
                <DisclosureButton
                  title={check.why}
                  className={`flex w-full items-center gap-1.5 rounded-[3px] px-1.5 py-[2px] text-left hover:bg-faint ${active && params.has(`check.${check.id}`) ? "font-semibold text-leaf-dark" : ""}`}
                >
                  <span className="min-w-0 flex-1 truncate">{check.title}</span>
                  <span className="flex items-center gap-1 text-acorn" title="gaps">
                    <Mark outcome="gap" size={8} />
                    {count(counts[`check.${check.id}`]?.gap ?? 0)}
                  </span>
                </DisclosureButton>
                <DisclosurePanel className="ml-2 border-l border-line pl-1">
                  {list(
                    `check.${check.id}`,
                    OUTCOMES.map((outcome) => ({ value: outcome, label: outcome, outcome })),
                  )}
                </DisclosurePanel>
              </Disclosure>
            ))}
          </div>
        );
      })}
      <Heading>Rejected by the sweep</Heading>
      {list("state", [{ value: "rejected", label: "show only these" }], true)}
    </aside>
  );
});

function Heading({ children }: { children: string }) {
  return <h2 className="mt-3 mb-0.5 px-1.5 text-[13px]">{children}</h2>;
}
