import type { Run, Schemas, Trade } from "../../api/client";
import { count, sentence } from "../../lib/format";
import { useTrades } from "../../queries/catalogue";
import { useCoverage } from "../../queries/gathering";

type Line = Schemas["CoverageLine"];

/** "We hold 412 of about 470 (440–515)", by trade, with the assumption beside it. */
export default function Coverage({ run }: { run: Run }) {
  const coverage = useCoverage(run.sweep_id, run.state === "running").data;
  const trades = useTrades().data ?? [];
  const whole = coverage?.lines.find((line) => line.trade === "");
  if (!coverage || !whole || whole.held === 0) return null;
  const lines = coverage.lines.filter((line) => line.trade && run.plan.trades.includes(line.trade));
  return (
    <section aria-label="Coverage" className="mt-4">
      <h2 className="border-b border-line pb-0.5 text-[14px]">Coverage</h2>
      <p className="mt-1 font-serif text-[14px]">{inWords(whole)}</p>
      <p className="text-soft">
        {whole.estimate === null ? sentence(whole.why) : `95 % interval, ${coverage.assumption}.`}
      </p>
      <details className="mt-1">
        <summary className="cursor-pointer text-leaf-dark">By trade and by source</summary>
        <table className="mt-1 w-full">
          <tbody>
            {lines.map((line) => (
              <tr key={line.trade} className="border-b border-faint">
                <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                  {labelOf(trades, line.trade)}
                </th>
                <td className="py-0.5 text-right">{count(line.held)}</td>
                <td className="py-0.5 pl-2 text-soft">{range(line)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <ul className="mt-1">
          {Object.entries(whole.by_source).map(([source, held]) => (
            <li key={source}>
              {coverage.titles[source] ?? source}: {count(held)}
              <span className="text-soft">, {count(whole.only_in[source] ?? 0)} nowhere else</span>
            </li>
          ))}
        </ul>
      </details>
    </section>
  );
}

const labelOf = (trades: Trade[], id: string): string =>
  trades.find((trade) => trade.id === id)?.plural ?? id;

const range = (line: Line): string =>
  line.estimate === null || line.low === null || line.high === null
    ? "no estimate"
    : `of about ${count(Math.round(line.estimate))} (${count(Math.round(line.low))}–${count(Math.round(line.high))})`;

const inWords = (line: Line): string =>
  line.estimate === null
    ? `${count(line.held)} in store; the total is not known.`
    : `${count(line.held)} in store ${range(line)}.`;
