import { type ReactNode, useDeferredValue, useMemo, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { Area, Plan, Schemas, Trade } from "../../api/client";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import GroundMap from "../../components/GroundMap";
import { Loading } from "../../components/Loading";
import { circle, isCircle, partsOf } from "../../lib/areas";
import { homeLanguage } from "../../lib/language";
import { marks } from "../../lib/marks";
import { useTitle } from "../../lib/useTitle";
import { useSources, useStatus, useTrades } from "../../queries/catalogue";
import { useKnownCounts } from "../../queries/gathering";
import { useEstimate, useSaveSweep, useSweeps } from "../../queries/sweeps";
import Areas from "./Areas";
import EstimateBar from "./EstimateBar";
import FactPicker from "./FactPicker";
import LimitsForm from "./LimitsForm";
import RulesForm from "./RulesForm";
import SampleNames from "./SampleNames";
import SourcePicker from "./SourcePicker";
import TerritoryMap from "./TerritoryMap";
import TradePicker from "./TradePicker";
import { useDraft } from "./useDraft";

const START_KM = 5;
const NO_PINS: number[][] = [];

function nameOf(trades: Trade[], chosen: string[], place: string): string {
  const names = chosen.map((id) => (trades.find((trade) => trade.id === id)?.plural ?? id).toLowerCase());
  const head =
    names.length > 3 ? `${names.slice(0, 2).join(", ")} and ${names.length - 2} more` : names.join(", ");
  return head ? `${place || "Circle"}: ${head}` : "";
}

/** A new sweep, or with `?sweep=` a saved one. */
export default function PlanSweep() {
  const id = Number(useSearchParams()[0].get("sweep"));
  const sweeps = useSweeps();
  useTitle(id ? "Edit a sweep" : "Plan a sweep");
  if (!id) return <Planner />;
  const saved = sweeps.data?.find((sweep) => sweep.id === id);
  if (saved) return <Planner saved={saved} />;
  return sweeps.isLoading ? (
    <Loading className="p-6" />
  ) : (
    <Empty page title="There is no such sweep">
      <ErrorNote error={sweeps.error} />
      <Link className="text-leaf-dark underline" to="/sweeps">
        All sweeps
      </Link>
    </Empty>
  );
}

function Planner({ saved }: { saved?: Schemas["SweepResponse"] }) {
  const status = useStatus().data;
  const trades = useTrades().data ?? [];
  const { draft, change, forget } = useDraft(saved);
  const { trades: chosen, rules, facts, limits } = draft;
  const ready = useSources().data;
  const sources = useMemo(() => draft.sources ?? startingWith(ready ?? []), [draft.sources, ready]);
  const [at, setAt] = useState(0);
  const [drawing, setDrawing] = useState(false);
  const currency = status?.currency ?? "";
  const spoken = homeLanguage(status?.locale);
  const save = useSaveSweep();
  const navigate = useNavigate();
  const [lat, lon] = home(status?.home);
  const areas = useMemo(() => draft.areas ?? [circle("", lat, lon, START_KM)], [draft.areas, lat, lon]);
  const place = placeOf(areas);
  const held = useKnownCounts(useDeferredValue(areas));
  const plan: Plan = useMemo(
    () => ({
      trades: chosen,
      areas,
      sources,
      rules,
      facts,
      wanted: Number(limits.wanted),
      most_requests: Number(limits.requests),
      most_cost: Number(limits.cost) || 0,
      language: limits.language || spoken,
      place,
    }),
    [chosen, areas, sources, rules, facts, limits, place, spoken],
  );
  const estimate = useEstimate(useDeferredValue(plan));
  const title = draft.name ?? nameOf(trades, chosen, place);
  const changeAreas = (next: Area[], index: number) => {
    change({ areas: next });
    setAt(Math.min(index, next.length - 1));
  };
  const send = (begin: boolean) =>
    save.mutate(
      { id: saved?.id, name: title, plan, start: begin },
      {
        onSuccess: ({ run_id }) => {
          forget();
          navigate(run_id ? `/sweeps/runs/${run_id}` : "/sweeps");
        },
      },
    );
  const incomplete =
    chosen.length === 0 || sources.length === 0 || !title.trim() || save.isPending || estimate.isError;

  return (
    <div className="flex h-full">
      <form
        className="flex w-[400px] shrink-0 flex-col border-r border-line bg-sheet"
        onSubmit={(event) => {
          event.preventDefault();
          send(true);
        }}
      >
        <div className="min-h-0 flex-1 overflow-y-auto px-4 py-3">
          <h1 className="text-lg">{saved ? "Edit a sweep" : "Plan a sweep"}</h1>
          <Step title="Which trades">
            <TradePicker trades={trades} chosen={chosen} onChange={(next) => change({ trades: next })} />
          </Step>
          <Step title="Where">
            <Areas
              areas={areas}
              chosen={at}
              drawing={drawing}
              held={held.data}
              onAreas={changeAreas}
              onDraw={() => setDrawing(true)}
            />
          </Step>
          <Step title="From">
            <SourcePicker
              chosen={sources}
              requests={chosen.length ? (estimate.data?.by_source ?? {}) : {}}
              onChange={(next) => change({ sources: next })}
            />
          </Step>
          <Step title="What to find out of each">
            <FactPicker
              facts={chosen.length ? (estimate.data?.facts ?? []) : []}
              chosen={facts}
              currency={currency}
              onChange={(next) => change({ facts: next })}
            />
          </Step>
          <Step title="How many, how much">
            <LimitsForm
              language={spoken}
              limits={limits}
              currency={currency}
              onChange={(next) => change({ limits: next })}
            />
          </Step>
          <details className="mt-3">
            <summary className="cursor-pointer font-serif font-semibold">Keep only …</summary>
            <div className="mt-1">
              <RulesForm rules={rules} onRules={(next) => change({ rules: next })} />
            </div>
          </details>
          <Step title="Name">
            <input
              value={title}
              maxLength={120}
              aria-label="Name of the sweep"
              {...marks(save.error, "name")}
              placeholder="comes from what you choose"
              onChange={(event) => change({ name: event.target.value })}
              className="box w-full"
            />
          </Step>
        </div>
        <div className="border-t border-line bg-paper px-4 py-3">
          <EstimateBar
            chosen={chosen.length}
            estimate={estimate.data}
            error={estimate.error}
            busy={estimate.isFetching}
            trades={trades}
            currency={currency}
          />
          <SampleNames plan={plan} />
          <ErrorNote error={save.error} />
          <div className="mt-2 flex gap-2">
            <Button type="submit" look="main" disabled={incomplete} className="flex-1 justify-center py-1.5">
              {saved ? "Save and run now" : "Start the sweep"}
            </Button>
            <Button disabled={incomplete} onClick={() => send(false)} className="justify-center py-1.5">
              {saved ? "Save" : "Save for later"}
            </Button>
          </div>
        </div>
      </form>
      <div className="min-w-0 flex-1">
        {status && (
          <GroundMap centre={[lat, lon]} zoom={9} label="Territory">
            <TerritoryMap
              areas={areas}
              chosen={at}
              drawing={drawing}
              pins={held.data?.pins ?? NO_PINS}
              onChange={(area) => changeAreas(areas.with(at, area), at)}
              onChoose={setAt}
              onDrawn={(area) => {
                setDrawing(false);
                if (!area) return;
                const kept = areas.filter((item) => item.name || !isCircle(item));
                changeAreas([...kept, area], kept.length);
              }}
            />
          </GroundMap>
        )}
      </div>
    </div>
  );
}

/** The sources that a new plan begins with: one that gathers by area and is set up, else the first there is. */
function startingWith(sources: Schemas["SourceInfo"][]): string[] {
  const fit = sources.filter((source) => !source.joins && source.by === "tiles");
  const ready = fit.filter((source) => source.ready);
  const ranked = (among: Schemas["SourceInfo"][]) =>
    among.find((source) => source.id === "listing_service") ?? among[0];
  const first = ranked(ready) ?? ranked(fit);
  return first ? [first.id] : [];
}

/** The territory in a few words, "" for a circle that is no place's. */
function placeOf(areas: Area[]): string {
  const names = partsOf(areas)
    .map((part) => part.name)
    .filter(Boolean);
  if (names.length === 0 && areas.length === 1) return "";
  return names.length > 2 ? `${names[0]} and ${names.length - 1} more` : names.join(" and ");
}

function home(place: readonly unknown[] | null | undefined): [number, number] {
  const [lat, lon] = place ?? [];
  return typeof lat === "number" && typeof lon === "number" ? [lat, lon] : [0, 0];
}

function Step({ title, children }: { title: string; children: ReactNode }) {
  return (
    <fieldset className="mt-3">
      <legend className="mb-1 font-serif font-semibold">{title}</legend>
      {children}
    </fieldset>
  );
}
