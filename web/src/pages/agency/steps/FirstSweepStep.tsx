import { useMemo, useState } from "react";
import { useNavigate } from "react-router";
import type { Plan } from "../../../api/client";
import { Button } from "../../../components/Button";
import { ErrorNote } from "../../../components/ErrorNote";
import { circle } from "../../../lib/areas";
import { homeLanguage } from "../../../lib/language";
import { useSaveSettings } from "../../../queries/agency";
import { useCurrency, useSources, useStatus, useTrades } from "../../../queries/catalogue";
import { useEstimate, useSaveSweep } from "../../../queries/sweeps";
import EstimateBar from "../../gather/EstimateBar";
import TradePicker from "../../gather/TradePicker";

const KM = [5, 10, 20, 40];
const TRADES = ["shop/hairdresser"];

/** A sweep around the home town, planned and one button from running. */
export default function FirstSweepStep() {
  const status = useStatus().data;
  const trades = useTrades().data ?? [];
  const sources = (useSources().data ?? []).filter((source) => source.ready && !source.joins);
  const currency = useCurrency();
  const [chosen, setChosen] = useState(TRADES);
  const [km, setKm] = useState(10);
  const save = useSaveSweep();
  const finish = useSaveSettings();
  const navigate = useNavigate();
  const [lat, lon] = (status?.home ?? []) as (number | undefined)[];
  const home = lat !== undefined && lon !== undefined;
  const ready = sources.map((source) => source.id).join(" ");
  const plan: Plan = useMemo(
    () => ({
      trades: chosen,
      areas: home ? [circle("Home", lat, lon, km)] : [],
      sources: ready ? ready.split(" ") : [],
      facts: ["website", "contacts"],
      place: "Home",
      language: homeLanguage(status?.locale),
    }),
    [chosen, home, lat, lon, km, ready, status?.locale],
  );
  const estimate = useEstimate(plan);
  const name = trades.filter((trade) => chosen.includes(trade.id)).map((trade) => trade.plural.toLowerCase());
  const missing = !home
    ? "Choose your home town in step 2 first."
    : sources.length === 0
      ? "Set up a source in step 4 first."
      : "";
  const start = () =>
    save.mutate(
      { id: undefined, name: `First sweep: ${name.slice(0, 3).join(", ")}`.slice(0, 120), plan, start: true },
      {
        onSuccess: ({ run_id }) => {
          finish.mutate({ set_up: true });
          navigate(run_id ? `/sweeps/runs/${run_id}` : "/sweeps");
        },
      },
    );
  return (
    <div className="mt-3 grid max-w-4xl grid-cols-[1fr_300px] gap-8">
      <div>
        <h3>Which trades</h3>
        <TradePicker trades={trades} chosen={chosen} onChange={setChosen} />
      </div>
      <div className="space-y-3">
        <label className="flex items-center gap-2">
          Around your home town, within
          <select value={km} onChange={(event) => setKm(Number(event.target.value))} className="box">
            {KM.map((value) => (
              <option key={value} value={value}>
                {value} km
              </option>
            ))}
          </select>
        </label>
        <p>From: {sources.map((source) => source.title).join(", ") || "no source yet"}.</p>
        {missing ? (
          <p className="border-l-[3px] border-acorn pl-2">{missing}</p>
        ) : (
          <EstimateBar
            chosen={chosen.length}
            estimate={estimate.data}
            error={estimate.error}
            busy={estimate.isFetching}
            trades={trades}
            currency={currency}
          />
        )}
        <Button
          look="main"
          disabled={missing !== "" || chosen.length === 0 || save.isPending || estimate.isError}
          onClick={start}
        >
          Start the first sweep
        </Button>
        <ErrorNote error={save.error} />
      </div>
    </div>
  );
}
