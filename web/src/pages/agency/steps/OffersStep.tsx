import { useState } from "react";
import type { Service } from "../../../api/client";
import { Button } from "../../../components/Button";
import { ErrorNote } from "../../../components/ErrorNote";
import { draftOf } from "../../../lib/offers";
import { useCurrency, useServices } from "../../../queries/catalogue";
import { useRemoved, useRemoveService, useRestore, useSaveService } from "../../../queries/desk";
import type { StepProps } from "../SetUp";

interface Line {
  service: Service;
  /** Version by which it can be offered again; 0 while it is offered. */
  removed: number;
}

/** Which services are sold, and for how much. */
export default function OffersStep({ onNext }: StepProps) {
  const offered = useServices();
  const removed = useRemoved();
  const currency = useCurrency();
  const lines: Line[] = [
    ...(offered.data ?? []).map((service) => ({ service, removed: 0 })),
    ...(removed.data ?? []).map(({ number, service }) => ({ service, removed: number })),
  ].sort((a, b) => a.service.title.localeCompare(b.service.title));
  return (
    <div className="mt-3 max-w-3xl">
      <ErrorNote error={offered.error ?? removed.error} />
      <table className="w-full bg-sheet">
        <thead className="text-left text-soft">
          <tr className="border-b border-line">
            <th scope="col" className="px-2 py-1 font-normal">
              Service
            </th>
            <th scope="col" className="px-2 py-1 text-right font-normal">
              Fee, {currency}
            </th>
            <th scope="col" className="px-2 py-1 text-right font-normal">
              A month, {currency}
            </th>
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => (
            <Offer key={`${line.service.id} ${line.service.fee} ${line.service.monthly}`} {...line} />
          ))}
        </tbody>
      </table>
      <Button look="main" className="mt-3" onClick={onNext}>
        Continue
      </Button>
    </div>
  );
}

function Offer({ service, removed }: Line) {
  const save = useSaveService();
  const remove = useRemoveService();
  const restore = useRestore();
  const [fees, setFees] = useState({ fee: String(service.fee), monthly: String(service.monthly) });
  const keep = () => {
    const [fee, monthly] = [Number(fees.fee), Number(fees.monthly)];
    if (fee !== service.fee || monthly !== service.monthly)
      save.mutate({ id: service.id, body: { ...draftOf(service), fee, monthly, note: "set-up" } });
  };
  const box = (name: "fee" | "monthly", label: string) => (
    <td className="px-2 py-1 text-right">
      <input
        aria-label={`${label} of ${service.title}`}
        inputMode="decimal"
        disabled={removed > 0}
        value={fees[name]}
        onChange={(event) => setFees({ ...fees, [name]: event.target.value })}
        onBlur={keep}
        className="box w-24 text-right disabled:opacity-50"
      />
    </td>
  );
  const error = save.error ?? remove.error ?? restore.error;
  return (
    <tr className="border-b border-faint">
      <td className="px-2 py-1">
        <label className="flex items-baseline gap-2">
          <input
            type="checkbox"
            className="accent-leaf"
            checked={removed === 0}
            onChange={() =>
              removed ? restore.mutate({ id: service.id, number: removed }) : remove.mutate(service.id)
            }
          />
          <span>
            {service.title} <span className="block text-soft">{service.sentence}</span>
          </span>
        </label>
        <ErrorNote error={error} />
      </td>
      {box("fee", "Fee")}
      {box("monthly", "A month")}
    </tr>
  );
}
