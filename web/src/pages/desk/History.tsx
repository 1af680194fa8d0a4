import type { Business } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import Mark from "../../components/Mark";
import { day, host, sentence, when } from "../../lib/format";
import type { Outcome } from "../../lib/outcome";
import { useAuditAgain, useHistory } from "../../queries/audits";

/** Every audit made, what changed from one to the next, and a new one to begin. */
export default function History({ business }: { business: Business }) {
  const history = useHistory(business.id, business.audited_at).data;
  const again = useAuditAgain();
  const { audits = [], events = [] } = history ?? {};
  return (
    <section aria-label="History">
      <h3 className="mt-5 mb-1 flex items-baseline justify-between border-b border-line pb-0.5">
        History
        <Button
          look="quiet"
          disabled={again.isPending || business.relationship !== ""}
          onClick={() => again.mutate({ ids: [business.id] })}
        >
          Audit again
        </Button>
      </h3>
      <ErrorNote error={again.error} />
      {again.isPending && <p className="text-soft">Auditing …</p>}
      {events.length === 0 && audits.length > 1 && <p className="text-soft">No changes between audits.</p>}
      <ul>
        {events.map((event) => (
          <li key={event.id} className="flex items-start gap-1.5 border-b border-faint py-1">
            <span
              className="mt-[3px] flex shrink-0 items-center gap-0.5"
              title={`${event.before}, then ${event.after}`}
            >
              <Mark outcome={event.before as Outcome} />
              <span className="text-soft">→</span>
              <Mark outcome={event.after as Outcome} />
            </span>
            <span className="min-w-0 flex-1">{sentence(event.text)}</span>
            <span className="shrink-0 text-soft">{day(event.at)}</span>
          </li>
        ))}
      </ul>
      {audits.length > 0 && (
        <details className="mt-1">
          <summary className="cursor-pointer text-leaf-dark">
            {audits.length === 1 ? "Audited once" : `Audited ${audits.length} times`}
          </summary>
          <ul>
            {audits.map((audit) => (
              <li key={audit.at} className="flex justify-between gap-2 text-soft">
                <span>{when(audit.at)}</span>
                <span className="min-w-0 truncate">
                  {audit.website ? host(audit.website) : "no website listed"}
                </span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}
