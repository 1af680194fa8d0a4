import { lazy, Suspense, useMemo } from "react";
import { Button } from "../../../components/Button";
import { filterOf, setting, withParam } from "../../../lib/filter";
import { useAddress } from "../../../lib/useAddress";
import { useTitle } from "../../../lib/useTitle";
import { useInsightChoices } from "../../../queries/desk";
import CrossTable from "./CrossTable";
import Feed from "./Feed";

const Bars = lazy(() => import("./Bars"));
const Ground = lazy(() => import("./Ground"));

/** Tables that are ready to be opened; the last says which town to begin with. */
const READY: [string, string, string, string][] = [
  ["Value by town", "town", "trade", "sum of value"],
  ["Trades by town", "trade", "town", "count"],
  ["Offers by trade", "trade", "offer", "count"],
  ["Contact channels", "trade", "has", "share"],
  ["Website platforms", "platform", "score band", "count"],
];

/** Cross-tables over any two dimensions, their bars, and what changed between audits. */
export default function Insight() {
  const [params, change] = useAddress();
  const choices = useInsightChoices().data;
  const filter = useMemo(() => filterOf(params), [params]);
  const view = params.get("view") ?? "table";
  const rows = params.get("rows") ?? "town";
  const columns = params.get("columns") ?? "trade";
  const measure = params.get("measure") ?? "sum of value";
  useTitle("Insight");
  const set = (key: string, value: string) => change(setting(key, value));
  const ready = (_title: string, down: string, across: string, what: string) =>
    change((now) => {
      const next = withParam(withParam(now, "rows", down), "columns", across);
      return withParam(withParam(next, "measure", what), "view", "");
    });
  const select = (key: string, value: string, label: string) => (
    <label className="flex items-baseline gap-1.5">
      {label}
      <select value={value} onChange={(event) => set(key, event.target.value)} className="box">
        {choices?.dimensions.map((item) => (
          <option key={item.value} value={item.value}>
            {item.label}
          </option>
        ))}
      </select>
    </label>
  );
  return (
    <div className="flex h-full">
      <nav
        aria-label="Ready-made tables"
        className="w-[214px] shrink-0 overflow-y-auto border-r border-line bg-sheet p-2.5"
      >
        <h1 className="sr-only">Insight</h1>
        <h2 className="px-1.5 text-[13px]">Tables</h2>
        {READY.map((item) => {
          const on = view !== "changes" && item[1] === rows && item[2] === columns && item[3] === measure;
          return (
            <button
              key={item[0]}
              type="button"
              aria-pressed={on}
              onClick={() => ready(...item)}
              className={`mt-0.5 block w-full rounded-[3px] px-1.5 py-1 text-left ${on ? "bg-leaf-soft font-semibold text-leaf-dark" : "hover:bg-faint"}`}
            >
              {item[0]}
            </button>
          );
        })}
        <h2 className="mt-4 px-1.5 text-[13px]">What changed</h2>
        <button
          type="button"
          aria-pressed={view === "changes"}
          onClick={() => set("view", "changes")}
          className={`mt-0.5 block w-full rounded-[3px] px-1.5 py-1 text-left ${view === "changes" ? "bg-leaf-soft font-semibold text-leaf-dark" : "hover:bg-faint"}`}
        >
          Recent changes
        </button>
      </nav>
      {view === "changes" ? (
        <Feed params={params} onParam={set} />
      ) : (
        <section aria-label="Cross-table" className="flex min-w-0 flex-1 flex-col">
          <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-b border-line bg-paper px-4 py-2">
            {select("rows", rows, "Down")}
            {select("columns", columns, "across")}
            <label className="flex items-baseline gap-1.5">
              in each
              <select
                value={measure}
                onChange={(event) => set("measure", event.target.value)}
                className="box"
              >
                {choices?.measures.map((item) => (
                  <option key={item}>{item}</option>
                ))}
              </select>
            </label>
            <span className="ml-auto flex gap-1">
              <Button aria-pressed={view === "table"} onClick={() => set("view", "")}>
                Table
              </Button>
              <Button aria-pressed={view === "bars"} onClick={() => set("view", "bars")}>
                Bars
              </Button>
              <Button aria-pressed={view === "map"} onClick={() => set("view", "map")}>
                Map
              </Button>
            </span>
          </div>
          <Suspense fallback={<p className="p-6 text-soft">Loading the chart …</p>}>
            {view === "bars" && <Bars rows={rows} columns={columns} measure={measure} filter={filter} />}
            {view === "map" && <Ground measure={measure} filter={filter} />}
          </Suspense>
          <CrossTable rows={rows} columns={columns} measure={measure} filter={filter} />
        </section>
      )}
    </div>
  );
}
