import { useId, useState } from "react";
import type { Service } from "../api/client";
import { dayFromNow } from "../lib/format";
import type { ResultKind } from "../lib/results";
import type { ContactAsked } from "../queries/outreach";
import { Button } from "./Button";

interface Props {
  kind: ResultKind;
  services: Service[];
  service: string;
  currency: string;
  busy: boolean;
  onSend: (asked: ContactAsked) => void;
  onClose: () => void;
}

/** What a result takes besides: a day, an amount with the service, a reason, or a moment to make sure. */
export default function ResultForm({ kind, services, service, currency, busy, onSend, onClose }: Props) {
  const [more, setMore] = useState(kind.asks === "day" ? dayFromNow(3) : "");
  const [sold, setSold] = useState(service);
  const id = useId();
  const amount = more.trim() === "" ? null : Number(more.replace(/,/g, ""));
  // a sale is learnt from: nobody but the user can say of what it was
  const broken = kind.asks === "amount" ? Number.isNaN(amount) || sold === "" : kind.asks === "day" && !more;
  const send = () =>
    onSend({
      result: kind.id,
      ...(kind.asks === "day" ? { follow_up: more } : {}),
      ...(kind.asks === "amount" ? { amount, service: sold } : {}),
      ...(kind.asks === "reason" ? { note: more } : {}),
    });
  return (
    <form
      aria-label={kind.words}
      className="flex flex-wrap items-center gap-2 border border-line bg-sheet px-3 py-2"
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Escape") onClose();
      }}
      onSubmit={(event) => {
        event.preventDefault();
        if (!broken && !busy) send();
      }}
    >
      {kind.asks === "certainty" ? (
        <span>No list will call or write to them again.</span>
      ) : (
        <>
          {kind.asks === "amount" && (
            <select
              value={sold}
              onChange={(event) => setSold(event.target.value)}
              aria-label="What was sold"
              className="box"
            >
              {sold === "" && <option value="">which service?</option>}
              {services.map((item) => (
                <option key={item.id} value={item.id}>
                  {item.title}
                </option>
              ))}
            </select>
          )}
          <label htmlFor={id}>
            {{ day: "On", amount: `Amount, ${currency}`, reason: "Because" }[kind.asks ?? "reason"]}
          </label>
          <input
            id={id}
            // biome-ignore lint/a11y/noAutofocus: the form was asked for by its key, and this is what it asks
            autoFocus
            type={kind.asks === "day" ? "date" : "text"}
            inputMode={kind.asks === "amount" ? "decimal" : undefined}
            value={more}
            onChange={(event) => setMore(event.target.value)}
            aria-invalid={broken}
            className={`box aria-invalid:border-alarm ${kind.asks === "reason" ? "w-64" : "w-36"}`}
          />
        </>
      )}
      <Button type="submit" look="main" disabled={busy || broken} autoFocus={kind.asks === "certainty"}>
        Note it
      </Button>
      <Button onClick={onClose}>Not now</Button>
    </form>
  );
}
