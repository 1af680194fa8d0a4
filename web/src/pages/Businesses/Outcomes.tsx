import { useState } from "react";
import type { Business, Opportunity } from "../../api/client";
import { BOX, Button, ErrorNote } from "../../components/Bits";
import { day, money } from "../../lib/format";
import { useNoteOutcome } from "../../queries/desk";

const STAGES = ["contacted", "won", "lost"] as const;

interface Props {
  business: Business;
  offer: Opportunity;
  currency: string;
}

/** What came of offering a service: the chance of winning, and so every value, is learnt from it. */
export default function Outcomes({ business, offer, currency }: Props) {
  const note = useNoteOutcome(business.id);
  const [stage, setStage] = useState<(typeof STAGES)[number]>("contacted");
  const [more, setMore] = useState("");
  const amount = stage === "won" && more.trim() ? Number(more) : null;
  return (
    <details className="mt-1" open={business.outcomes.length > 0}>
      <summary className="cursor-pointer text-leaf-dark">What came of it</summary>
      <ul className="mt-1">
        {business.outcomes.map((kept) => (
          <li key={kept.service} className="flex justify-between gap-2 border-b border-faint py-0.5">
            <span>
              <strong className="font-semibold">{kept.stage}</strong> {kept.title}
              {kept.amount !== null && `, ${money(kept.amount, currency)}`}
              {kept.reason && `: ${kept.reason}`}
            </span>
            <span className="shrink-0 text-soft">
              at {kept.score} on {day(kept.contacted_at)}
            </span>
          </li>
        ))}
      </ul>
      <form
        className="mt-1 flex flex-wrap items-center gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          const reason = stage === "lost" ? more.trim() : "";
          note.mutate({ service: offer.service, stage, amount, reason }, { onSuccess: () => setMore("") });
        }}
      >
        <select
          value={stage}
          onChange={(event) => setStage(event.target.value as typeof stage)}
          aria-label={`What came of ${offer.title}`}
          className={BOX}
        >
          {STAGES.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
        {stage !== "contacted" && (
          <input
            value={more}
            onChange={(event) => setMore(event.target.value)}
            inputMode={stage === "won" ? "decimal" : "text"}
            aria-label={stage === "won" ? `Amount, ${currency}` : "Why it was lost"}
            placeholder={stage === "won" ? `amount, ${currency}` : "why"}
            className={`w-32 ${BOX}`}
          />
        )}
        <Button type="submit" disabled={note.isPending || Number.isNaN(amount)}>
          Note it
        </Button>
      </form>
      <ErrorNote error={note.error} />
    </details>
  );
}
