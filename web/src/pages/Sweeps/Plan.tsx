import { type ReactNode, useDeferredValue, useEffect, useMemo, useState } from "react";
import { useNavigate } from "react-router";
import type { Place, Plan, Trade } from "../../api/client";
import { Button, ErrorNote } from "../../components/Bits";
import GroundMap from "../../components/GroundMap";
import { useStatus, useTrades } from "../../queries/catalogue";
import { useEstimate, useStartSweep } from "../../queries/sweeps";
import EstimateBar from "./EstimateBar";
import PlaceSearch from "./PlaceSearch";
import TerritoryCircle from "./TerritoryCircle";
import TradePicker from "./TradePicker";

const MAX_KM = 200;
const START_KM = 5;

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
  const [at, setAt] = useState<[number, number] | null>(null);
  const [km, setKm] = useState(String(START_KM));
  const [wanted, setWanted] = useState("");
  const [place, setPlace] = useState("");
  const [name, setName] = useState<string | null>(null);
  const start = useStartSweep();
  const navigate = useNavigate();
  const [lat, lon] = at ?? home(status?.home);
  const plan: Plan = useMemo(
    () => ({
      trades: chosen,
      lat,
      lon,
      radius_m: (Number(km.replace(",", ".")) || 0) * 1000,
      wanted: Number.parseInt(wanted, 10) || 0,
      place,
    }),
    [chosen, lat, lon, km, wanted, place],
  );
  const estimate = useEstimate(useDeferredValue(plan));
  const title = name ?? nameOf(trades, chosen, place);
  useEffect(() => {
    document.title = "Plan a sweep – Open Acorn";
  }, []);
  const choosePlace = (found: Place) => {
    setAt([found.lat, found.lon]);
    setPlace(found.name);
    setKm(String(found.radius_km));
  };
  const go = () =>
    start.mutate(
      { name: title, plan },
      { onSuccess: (started) => navigate(`/sweeps/runs/${started.run_id}`) },
    );

  return (
    <div className="flex h-full">
      <form
        className="flex w-[380px] shrink-0 flex-col border-r border-line bg-sheet"
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
            <PlaceSearch onChoose={choosePlace} />
            <label className="mt-2 flex items-center gap-2">
              <span className="w-14">Radius</span>
              <input
                type="range"
                min={0}
                max={100}
                value={sliderOf(Number(km) || 0)}
                aria-label="Radius by slider"
                onChange={(event) => setKm(kmOf(Number(event.target.value)))}
                className="min-w-0 flex-1 accent-leaf"
              />
              <input
                inputMode="decimal"
                value={km}
                aria-label="Radius in kilometres"
                onChange={(event) => setKm(event.target.value)}
                className="w-16 rounded-[3px] border border-line bg-white px-2 py-1 text-right"
              />
              km
            </label>
            <p className="mt-1 text-xs text-soft">
              Drag the circle’s middle or its edge on the map, or click where it should be.
            </p>
          </Step>
          <Step title="From">
            <p>
              Listing service{" "}
              <span className="text-soft">
                – gives at most 60 a question, so the area is split until nothing is cut off
              </span>
            </p>
            {status && !status.source_ready && (
              <p className="mt-1 border-l-[3px] border-alarm pl-2">
                It is not set up: enter its address and key in settings.json.
              </p>
            )}
          </Step>
          <Step title="How many">
            <label className="flex items-center gap-2">
              <input
                inputMode="numeric"
                value={wanted}
                placeholder="all"
                onChange={(event) => setWanted(event.target.value.replace(/\D/g, ""))}
                className="w-20 rounded-[3px] border border-line bg-white px-2 py-1 text-right placeholder:text-soft"
              />
              businesses, then stop
            </label>
          </Step>
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
          />
          <ErrorNote error={start.error} />
          <Button
            type="submit"
            look="main"
            disabled={chosen.length === 0 || !title.trim() || start.isPending || estimate.isError}
            className="mt-2 w-full justify-center py-1.5"
          >
            Start the sweep
          </Button>
        </div>
      </form>
      <div className="min-w-0 flex-1">
        {status && (
          <GroundMap centre={[lat, lon]} zoom={9} label="Territory">
            <TerritoryCircle
              centre={[lat, lon]}
              radius={plan.radius_m}
              onCentre={(point) => {
                setAt(point);
                setPlace("");
              }}
              onRadius={(metres) =>
                setKm(String(Math.min(MAX_KM, Math.max(0.1, Math.round(metres / 100) / 10))))
              }
            />
          </GroundMap>
        )}
      </div>
    </div>
  );
}

function home(told: readonly unknown[] | null | undefined): [number, number] {
  const [lat, lon] = told ?? [];
  return typeof lat === "number" && typeof lon === "number" ? [lat, lon] : [0, 0];
}

// the slider is logarithmic from .5 to 200 km: a town and a region are both a hand's width away
const kmOf = (slider: number): string => {
  const value = 0.5 * (MAX_KM / 0.5) ** (slider / 100);
  return value < 10 ? value.toFixed(1) : value.toFixed(0);
};
const sliderOf = (km: number): number =>
  Math.round((100 * Math.log(Math.max(km, 0.5) / 0.5)) / Math.log(MAX_KM / 0.5));

function Step({ title, children }: { title: string; children: ReactNode }) {
  return (
    <fieldset className="mt-3">
      <legend className="mb-1 font-serif font-semibold">{title}</legend>
      {children}
    </fieldset>
  );
}
