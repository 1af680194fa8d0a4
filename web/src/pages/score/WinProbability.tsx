import { Link } from "react-router";
import {
  CartesianGrid,
  Line,
  LineChart,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  ScatterChart,
  XAxis,
  YAxis,
  ZAxis,
} from "recharts";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { setting } from "../../lib/filter";
import { count, money } from "../../lib/format";
import { useAddress } from "../../lib/useAddress";
import { useTitle } from "../../lib/useTitle";
import { useCurrency } from "../../queries/catalogue";
import { useSelectModel, useWinModel } from "../../queries/desk";

type Odds = Schemas["WinModelResponse"];
const INK = "var(--color-soft)";
const ACORN = "var(--color-acorn)";
const tick = { fontSize: 11, fill: INK };
/** Up to the next tenth, so that the axis ends on a plain number. */
const roundUp = (share: number): number => Math.min(1, Math.ceil(share * 10) / 10);
const percent = (share: number): string => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;

/** The chance of winning: a guess, and what contacts taught; which of them values go by is the user's choice. */
export default function Winning() {
  const [params, change] = useAddress();
  const of = params.get("of") ?? "";
  const query = useWinModel(of);
  const choose = useSelectModel();
  useTitle("Win probability");
  const odds = query.data;
  return (
    <div className="h-full overflow-y-auto px-8 py-5">
      <Link to="/offers" className="text-leaf-dark hover:underline">
        ← Offers
      </Link>
      <h1 className="mt-1 text-xl">Win probability</h1>
      <p className="max-w-2xl text-soft">
        A value is win probability times margin. The probability starts as an estimate and learns from your
        results: bought, declined, or no sale within 60 days.
      </p>
      <ErrorNote error={query.error ?? choose.error} />
      {odds && (
        <>
          <section aria-label="Values use" className="mt-3 flex flex-wrap items-center gap-2">
            Values use
            <Button
              aria-pressed={odds.goes_by === "prior"}
              disabled={choose.isPending}
              onClick={() => choose.mutate("prior")}
            >
              starting estimate
            </Button>
            <Button
              aria-pressed={odds.goes_by === "learnt"}
              disabled={choose.isPending || odds.trials === 0}
              onClick={() => choose.mutate("learnt")}
            >
              learnt from your results
            </Button>
            <Trust odds={odds} />
          </section>
          <div className="mt-4 grid max-w-[1080px] grid-cols-2 gap-8">
            <Curve
              odds={odds}
              of={of}
              onOf={(service) => change(setting("of", service), { replace: true })}
            />
            <Reliability odds={odds} />
          </div>
          <Services odds={odds} />
          <Channels channels={odds.channels} />
        </>
      )}
    </div>
  );
}

/** How far what was learnt can be trusted, in words. */
function Trust({ odds }: { odds: Odds }) {
  if (odds.trials === 0)
    return <span className="text-soft">Nothing has been learnt yet: log a result first.</span>;
  return (
    <span className={odds.needed > 0 ? "text-acorn" : "text-leaf-dark"}>
      {count(odds.trials)} contacts, {count(odds.won)} bought.{" "}
      {odds.needed > 0
        ? `Not reliable yet: ${count(odds.needed)} more ${odds.won * 2 <= odds.trials ? "sales" : "losses"} needed.`
        : "Enough to rely on."}
    </span>
  );
}

function Curve({ odds, of, onOf }: { odds: Odds; of: string; onOf: (service: string) => void }) {
  const top = roundUp(Math.max(...odds.curve.flatMap((point) => [point.prior, point.learnt])));
  return (
    <figure>
      <h2 className="flex items-baseline gap-2 text-[15px]">
        By score
        <select
          value={of}
          aria-label="Service"
          onChange={(event) => onOf(event.target.value)}
          className={`font-sans text-[13px] box`}
        >
          <option value="">a service without contacts</option>
          {odds.services.map((item) => (
            <option key={item.service} value={item.service}>
              {item.title}
            </option>
          ))}
        </select>
      </h2>
      <div className="mt-1 h-[220px] border border-line bg-sheet pt-2 pr-3">
        <ResponsiveContainer width="100%" height="100%">
          <LineChart data={odds.curve}>
            <CartesianGrid stroke="var(--color-faint)" />
            <XAxis dataKey="score" type="number" domain={[0, 100]} tick={tick} />
            <YAxis domain={[0, top]} tick={tick} tickFormatter={percent} width={48} />
            <Line dataKey="prior" stroke={INK} strokeDasharray="5 4" dot={false} isAnimationActive={false} />
            <Line dataKey="learnt" stroke={ACORN} strokeWidth={2} dot={false} isAnimationActive={false} />
          </LineChart>
        </ResponsiveContainer>
      </div>
      <figcaption className="text-soft">
        Horizontal: score. Vertical: win probability. Dashed: starting estimate, odds ×{" "}
        {odds.prior_step.toFixed(2)} per ten points. Solid: learnt, × {odds.learnt_step.toFixed(2)}.
      </figcaption>
    </figure>
  );
}

/** What was foretold of contacts beside what came, each by a fit that had not seen it. */
function Reliability({ odds }: { odds: Odds }) {
  const top = roundUp(
    Math.max(0.05, ...odds.bins.flatMap((bin) => [bin.predicted * 1.08, bin.bought * 1.08])),
  );
  return (
    <figure>
      <h2 className="text-[15px]">Predicted vs actual</h2>
      <div className="mt-1 h-[220px] border border-line bg-sheet pt-2 pr-3">
        {odds.bins.length === 0 ? (
          <p className="p-4 text-soft">Nothing to compare with yet.</p>
        ) : (
          <ResponsiveContainer width="100%" height="100%">
            <ScatterChart>
              <CartesianGrid stroke="var(--color-faint)" />
              <XAxis
                dataKey="predicted"
                type="number"
                domain={[0, top]}
                tick={tick}
                tickFormatter={percent}
              />
              <YAxis
                dataKey="bought"
                type="number"
                domain={[0, top]}
                tick={tick}
                tickFormatter={percent}
                width={48}
              />
              <ZAxis dataKey="count" range={[40, 240]} />
              <ReferenceLine
                segment={[
                  { x: 0, y: 0 },
                  { x: top, y: top },
                ]}
                stroke={INK}
                strokeDasharray="5 4"
              />
              <Scatter data={odds.bins} fill={ACORN} isAnimationActive={false} />
            </ScatterChart>
          </ResponsiveContainer>
        )}
      </div>
      <figcaption className="text-soft">
        Horizontal: predicted. Vertical: actual. On the line, the prediction was right.{" "}
        {odds.prior_brier !== null &&
          odds.fitted_brier !== null &&
          `Brier score (0 is best): starting estimate ${odds.prior_brier.toFixed(3)}, learnt ${odds.fitted_brier.toFixed(3)}.`}
      </figcaption>
    </figure>
  );
}

const CHANNELS: Record<string, string> = {
  call: "Phone call",
  email: "E-mail",
  text: "Text message",
  social: "Social message",
};

/** Which way of a first contact sells more often, the service and the score being the same. */
function Channels({ channels }: { channels: Odds["channels"] }) {
  if (channels.length === 0) return null;
  return (
    <table className="mt-5 bg-sheet">
      <Heads names={["First contact by", "Contacts", "Bought", "Odds"]} />
      <tbody>
        {channels.map((item) => (
          <tr key={item.channel} className="border-b border-faint">
            <th scope="row" className="px-3 py-1 text-left font-normal">
              {CHANNELS[item.channel] ?? item.channel}
            </th>
            <td className="px-3 text-right">{count(item.trials)}</td>
            <td className="px-3 text-right">{count(item.won)}</td>
            <td className="px-3 text-right">× {item.odds.toFixed(2)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Heads({ names }: { names: string[] }) {
  return (
    <thead className="text-left text-soft">
      <tr className="border-b border-line">
        {names.map((name, at) => (
          <th key={name} scope="col" className={`px-3 py-1.5 font-normal ${at > 0 ? "text-right" : "w-56"}`}>
            {name}
          </th>
        ))}
      </tr>
    </thead>
  );
}

function Services({ odds }: { odds: Odds }) {
  const currency = useCurrency();
  return (
    <table className="mt-5 bg-sheet">
      <Heads names={["Service", "Contacts", "Bought", "Sold for", "Estimate at 50", "Learnt at 50"]} />
      <tbody>
        {odds.services.map((item) => (
          <tr key={item.service} className="border-b border-faint">
            <th scope="row" className="px-3 py-1 text-left font-normal">
              {item.title}
            </th>
            <td className="px-3 text-right">{count(item.trials)}</td>
            <td className="px-3 text-right">{count(item.won)}</td>
            <td className="px-3 text-right">{item.earned > 0 ? money(item.earned, currency) : "–"}</td>
            <td className="px-3 text-right">{percent(item.prior)}</td>
            <td className="px-3 text-right font-semibold">{percent(item.learnt)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
