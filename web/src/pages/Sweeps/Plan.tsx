import { type ReactNode, useDeferredValue, useEffect, useMemo, useState } from "react";
import { useNavigate } from "react-router";
import type { Area, Plan, Rules, Trade } from "../../api/client";
import { Button, ErrorNote } from "../../components/Bits";
import GroundMap from "../../components/GroundMap";
import { circle, isCircle, partsOf } from "../../lib/areas";
import { useStatus, useTrades } from "../../queries/catalogue";
import { useHeld } from "../../queries/gathering";
import { useEstimate, useStartSweep } from "../../queries/sweeps";
import Areas from "./Areas";
import EstimateBar from "./EstimateBar";
import FactPicker from "./FactPicker";
import LimitsForm, { type Limits, NO_LIMITS } from "./LimitsForm";
import RulesForm from "./RulesForm";
import SampleNames from "./SampleNames";
import SourcePicker from "./SourcePicker";
import TerritoryMap from "./TerritoryMap";
import TradePicker from "./TradePicker";

const START_KM = 5;
const NO_PINS: number[][] = [];

function nameOf(trades: Trade[], chosen: string[], place: string): string {
  const names = chosen.map((id) => (trades.find((trade) => trade.id === id)?.plural ?? id).toLowerCase());
  const head =
    names.length > 3 ? `${names.slice(0, 2).join(", ")} and ${names.length - 2} more` : names.join(", ");
  return head ? `${place || "Circle"}: ${head}` : "";
}

export default function PlanSweep() {
  const status = useStatus().data;
  const trades = useTrades().data ?? [];
  const [chosen, setChosen] = useState<string[]>([]);
  const [drawn, setDrawn] = useState<Area[] | null>(null);
  const [at, setAt] = useState(0);
  const [drawing, setDrawing] = useState(false);
  const [sources, setSources] = useState<string[]>(["listing_service"]);
  const [rules, setRules] = useState<Rules>({});
  const [facts, setFacts] = useState<string[]>(["website", "contacts"]);
  const [limits, setLimits] = useState<Limits>(NO_LIMITS);
  const [name, setName] = useState<string | null>(null);
  const currency = status?.currency ?? "";
  const start = useStartSweep();
  const navigate = useNavigate();
  const [lat, lon] = home(status?.home);
  const areas = useMemo(() => drawn ?? [circle("", lat, lon, START_KM)], [drawn, lat, lon]);
  const place = placeOf(areas);
  const held = useHeld(useDeferredValue(areas));
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
      language: limits.language,
      place,
    }),
    [chosen, areas, sources, rules, facts, limits, place],
  );
  const estimate = useEstimate(useDeferredValue(plan));
  const title = name ?? nameOf(trades, chosen, place);
  useEffect(() => {
    document.title = "Plan a sweep – Open Acorn";
  }, []);
  const change = (next: Area[], index: number) => {
    setDrawn(next);
    setAt(Math.min(index, next.length - 1));
  };
  const go = () =>
    start.mutate(
      { name: title, plan },
      { onSuccess: (started) => navigate(`/sweeps/runs/${started.run_id}`) },
    );

  return (
    <div className="flex h-full">
      <form
        className="flex w-[400px] shrink-0 flex-col border-r border-line bg-sheet"
        onSubmit={(event) => {
          event.preventDefault();
          go();
        }}
      >
        <div className="min-h-0 flex-1 overflow-y-auto px-4 py-3">
          <h1 className="text-lg">Plan a sweep</h1>
          <Step title="Which trades">
            <TradePicker trades={trades} chosen={chosen} onChange={setChosen} />
          </Step>
          <Step title="Where">
            <Areas
              areas={areas}
              chosen={at}
              drawing={drawing}
              held={held.data}
              onAreas={change}
              onDraw={() => setDrawing(true)}
            />
          </Step>
          <Step title="From">
            <SourcePicker
              chosen={sources}
              requests={chosen.length ? (estimate.data?.by_source ?? {}) : {}}
              onChange={setSources}
            />
          </Step>
          <Step title="What to find out of each">
            <FactPicker
              facts={chosen.length ? (estimate.data?.facts ?? []) : []}
              chosen={facts}
              currency={currency}
              onChange={setFacts}
            />
          </Step>
          <Step title="How many, how much">
            <LimitsForm limits={limits} currency={currency} onChange={setLimits} />
          </Step>
          <details className="mt-3">
            <summary className="cursor-pointer font-serif font-semibold">Keep only …</summary>
            <div className="mt-1">
              <RulesForm rules={rules} onRules={setRules} />
            </div>
          </details>
          <Step title="Name">
            <input
              value={title}
              maxLength={120}
              aria-label="Name of the sweep"
              placeholder="comes from what you choose"
              onChange={(event) => setName(event.target.value)}
              className="w-full rounded-[3px] border border-line bg-white px-2 py-1 placeholder:text-soft"
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
          <ErrorNote error={start.error} />
          <Button
            type="submit"
            look="main"
            disabled={
              chosen.length === 0 ||
              sources.length === 0 ||
              !title.trim() ||
              start.isPending ||
              estimate.isError
            }
            className="mt-2 w-full justify-center py-1.5"
          >
            Start the sweep
          </Button>
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
              onChange={(area) => change(areas.with(at, area), at)}
              onChoose={setAt}
              onDrawn={(area) => {
                setDrawing(false);
                if (!area) return;
                const kept = areas.filter((item) => item.name || !isCircle(item));
                change([...kept, area], kept.length);
              }}
            />
          </GroundMap>
        )}
      </div>
    </div>
  );
}

/** The territory in a few words, "" for a circle that is no place's. */
function placeOf(areas: Area[]): string {
  const names = partsOf(areas)
    .map((part) => part.name)
    .filter(Boolean);
  if (names.length === 0 && areas.length === 1) return "";
  return names.length > 2 ? `${names[0]} and ${names.length - 1} more` : names.join(" and ");
}

function home(told: readonly unknown[] | null | undefined): [number, number] {
  const [lat, lon] = told ?? [];
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
