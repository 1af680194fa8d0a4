import type { Business, Opportunity, Service } from "../../api/client";
import { money } from "../../lib/format";
import Outcomes from "./Outcomes";

interface Props {
  business: Business;
  services: Service[];
  currency: string;
  chosen: string;
  onChoose: (service: string) => void;
}

/** Why the score is what it is: from 100 down, line by line, to the score. */
export default function ScoreLedger({ business, services, currency, chosen, onChoose }: Props) {
  const offers = business.opportunities;
  const shown =
    offers.find((offer) => offer.service === chosen) ??
    offers.find((offer) => offer.service === business.offer) ??
    offers[0];
  if (!shown) return <p className="mt-4 text-soft">Scores come with the audit.</p>;
  return (
    <section aria-label="Why this score">
      <h3 className="mt-3 mb-1.5 border-b border-line pb-0.5">Why this score</h3>
      <div role="tablist" aria-label="Services" className="mb-2 grid grid-cols-2 gap-1">
        {offers.map((offer) => (
          <button
            key={offer.service}
            type="button"
            role="tab"
            aria-selected={offer.service === shown.service}
            onClick={() => onChoose(offer.service)}
            className={`flex justify-between gap-1 rounded-[3px] border px-2 py-1 text-left ${offer.service === shown.service ? "border-leaf bg-leaf-soft font-semibold" : "border-line hover:border-leaf"}`}
          >
            <span className="truncate">{offer.title}</span>
            <span className={offer.score === null ? "font-normal text-soft" : ""}>{offer.score ?? "–"}</span>
          </button>
        ))}
      </div>
      <Ledger
        offer={shown}
        currency={currency}
        fee={services.find((service) => service.id === shown.service)}
        business={business}
      />
    </section>
  );
}

function Ledger({
  offer,
  currency,
  fee,
  business,
}: {
  offer: Opportunity;
  currency: string;
  fee: Service | undefined;
  business: Business;
}) {
  if (offer.score === null) {
    return (
      <p>
        <strong className="font-semibold">{offer.state}.</strong>{" "}
        <span className="text-soft">{offer.reason}</span>
      </p>
    );
  }
  const terms = offer.terms.filter((term) => term.points > 0);
  return (
    <>
      <p className="mb-1.5 font-serif">{offer.reason}</p>
      <table className="w-full" data-testid="ledger">
        <tbody>
          <Line label="A perfect opportunity" points="100" />
          {terms.map((term) => (
            <Line key={`${term.part}${term.check}`} label={labelOf(term)} points={`−${term.points}`} />
          ))}
        </tbody>
        <tfoot>
          <tr className="border-t border-ink font-semibold">
            <td className="py-0.5">Score</td>
            <td className="py-0.5 text-right">{offer.score}</td>
          </tr>
        </tfoot>
      </table>
      <p className="mt-1.5 text-soft">
        Need {percent(offer.need)}
        {offer.need_upper - offer.need > 0.005 && ` (at most ${percent(offer.need_upper)})`}
        {offer.decided_by && `, decided by “${offer.decided_by}”`} · fit {percent(offer.fit)} · reach{" "}
        {percent(offer.reach)} · {percent(offer.known_share)} of what counts is known · confidence{" "}
        {percent(offer.confidence)}
      </p>
      <p className="mt-1">
        {((offer.p_win ?? 0) * 100).toFixed(1)} % chance × {money(offer.margin, currency)} margin ={" "}
        <strong className="font-semibold">{money(offer.value, currency)}</strong> expected value
        {fee && <span className="text-soft"> (fee {money(fee.fee, currency)})</span>}
      </p>
      <Outcomes key={offer.service} business={business} offer={offer} currency={currency} />
      <details className="mt-1">
        <summary className="cursor-pointer text-leaf-dark">How fit is calculated</summary>
        <ul className="mt-1 text-soft">
          {business.signals.map((signal) => (
            <li key={signal.label} className="flex justify-between gap-2">
              <span>
                {signal.label}: {signal.shown}
              </span>
              <span>{signal.value === null ? "not counted" : percent(signal.value)}</span>
            </li>
          ))}
        </ul>
      </details>
    </>
  );
}

function Line({ label, points }: { label: string; points: string }) {
  return (
    <tr className="border-b border-faint">
      <td className="py-0.5">{label}</td>
      <td className="py-0.5 text-right">{points}</td>
    </tr>
  );
}

const percent = (share: number): string => `${Math.round(share * 100)} %`;

function labelOf(term: Opportunity["terms"][number]): string {
  if (term.part !== "need" || !term.check)
    return { fit: "Ability to pay", reach: "Hard to reach" }[term.part] ?? term.title;
  return `${term.title}: ${term.label}`;
}
