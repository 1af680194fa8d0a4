import type { Business, Opportunity } from "../../api/client";
import ResultButtons, { useResults } from "../../components/Results";
import UndoNote, { useActionLog } from "../../components/UndoNote";
import { day, money } from "../../lib/format";
import { useServices } from "../../queries/catalogue";

interface Props {
  business: Business;
  offer: Opportunity;
  currency: string;
}

/** What came of offering a service: the chance of winning, and so every value, is learnt from it. */
export default function Outcomes({ business, offer, currency }: Props) {
  const actions = useActionLog();
  const services = useServices().data ?? [];
  const results = useResults(business.id, offer.service, "", (action) => actions.note(action, null));
  return (
    <details className="mt-1" open={business.outcomes.length > 0}>
      <summary className="cursor-pointer text-leaf-dark">Sales results</summary>
      <ul className="my-1">
        {business.outcomes.map((kept) => (
          <li key={kept.service} className="flex justify-between gap-2 border-b border-faint py-0.5">
            <span>
              <strong className="font-semibold">{kept.stage}</strong> {kept.title}
              {kept.amount !== null && `, ${money(kept.amount, currency)}`}
              {kept.reason && `: ${kept.reason}`}
            </span>
            <span className="shrink-0 text-soft">
              {kept.score === null ? "no score" : `at ${kept.score}`} on {day(kept.contacted_at)}
            </span>
          </li>
        ))}
      </ul>
      <ResultButtons results={results} services={services} service={offer.service} currency={currency} />
      <UndoNote actions={actions} />
    </details>
  );
}
