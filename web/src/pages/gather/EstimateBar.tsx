import type { Schemas, Trade } from "../../api/client";
import { ErrorNote } from "../../components/ErrorNote";
import { count, duration } from "../../lib/format";

interface Props {
  chosen: number;
  estimate: Schemas["SweepEstimate"] | undefined;
  error: Error | null;
  busy: boolean;
  trades: Trade[];
  currency: string;
}

/** What the plan would take, before anything is asked of anybody. */
export default function EstimateBar({ chosen, estimate, error, busy, trades, currency }: Props) {
  if (chosen === 0)
    return <p className="text-soft">Choose at least one trade to see what the sweep would take.</p>;
  if (error) return <ErrorNote error={error} />;
  if (!estimate) return <p className="text-soft">Estimating …</p>;
  return (
    <div aria-live="polite" aria-busy={busy}>
      <p className="font-serif text-[15px]">
        About <strong className="font-semibold">{count(estimate.rows)}</strong> businesses{" "}
        <span className="text-soft">
          ({count(estimate.low)}–{count(estimate.high)}){busy && " · estimating again …"}
        </span>
      </p>
      <p>
        {count(estimate.requests)} {estimate.requests === 1 ? "question" : "questions"} (
        {count(estimate.requests_low)}–{count(estimate.requests_high)}) · {duration(estimate.seconds)} ·{" "}
        {estimate.cost > 0
          ? `costs ${currency} ${estimate.cost.toFixed(2)} (${estimate.cost_low.toFixed(2)}–${estimate.cost_high.toFixed(2)})`
          : "no cost"}{" "}
        · {count(Math.round(estimate.area_km2))} km²
      </p>
      <details className="text-soft">
        <summary className="cursor-pointer text-leaf-dark">How this was estimated</summary>
        <p>{estimate.how}.</p>
        <ul>
          {estimate.trades.map((item) => (
            <li key={item.trade}>
              {trades.find((trade) => trade.id === item.trade)?.plural ?? item.trade}: {count(item.rows)} –{" "}
              {item.basis}
              {item.held > 0 && `, ${count(item.held)} in store`}
            </li>
          ))}
        </ul>
      </details>
    </div>
  );
}
