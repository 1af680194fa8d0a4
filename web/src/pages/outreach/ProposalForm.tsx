import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { author } from "../../lib/session";
import { type Proposal, useSaveProposal } from "../../queries/proposals";

interface Line {
  title: string;
  amount: string;
  monthly: boolean;
}

interface Props {
  business: number;
  choices: Schemas["ProposalsResponse"];
  before?: Proposal;
  onDone: () => void;
}

/** What a service usually costs, as lines of a proposal. */
const usual = (service: Schemas["OfferChoice"] | undefined): Line[] =>
  service
    ? [
        { title: service.title, amount: String(service.fee), monthly: false },
        ...(service.monthly > 0
          ? [{ title: service.title, amount: String(service.monthly), monthly: true }]
          : []),
      ]
    : [];

/** What is offered, for how much, until when. */
export default function ProposalForm({ business, choices, before, onDone }: Props) {
  const save = useSaveProposal(business);
  const [service, setService] = useState(before?.service ?? choices.offer);
  const [lines, setLines] = useState<Line[]>(
    before?.items.map((item) => ({
      title: item.title,
      amount: String(item.amount),
      monthly: item.monthly ?? false,
    })) ?? usual(choices.services.find((item) => item.id === choices.offer)),
  );
  const [tax, setTax] = useState(String(before?.tax_percent ?? "0"));
  const [until, setUntil] = useState(before?.valid_until ?? choices.valid_until);
  const [note, setNote] = useState(before?.note ?? "");
  const put = (at: number, change: Partial<Line>) =>
    setLines(lines.map((line, index) => (index === at ? { ...line, ...change } : line)));
  return (
    <form
      aria-label="Proposal"
      className="mt-2 flex flex-col gap-2 border border-line bg-page px-3 py-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(
          {
            number: before?.id ?? 0,
            service,
            items: lines,
            tax_percent: tax || "0",
            valid_until: until,
            note,
            by: author(),
          },
          { onSuccess: onDone },
        );
      }}
    >
      <select
        aria-label="Service"
        value={service}
        onChange={(event) => {
          setService(event.target.value);
          setLines(usual(choices.services.find((item) => item.id === event.target.value)));
        }}
        className="box"
      >
        {choices.services.map((item) => (
          <option key={item.id} value={item.id}>
            {item.title}
          </option>
        ))}
      </select>
      {lines.map((line, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: lines have no name of their own, and stay in place
        <div key={at} className="flex flex-wrap items-center gap-1.5">
          <input
            aria-label="Item"
            required
            value={line.title}
            onChange={(event) => put(at, { title: event.target.value })}
            className="w-full box"
          />
          <input
            aria-label="Amount"
            type="number"
            min={0}
            step="0.01"
            required
            value={line.amount}
            onChange={(event) => put(at, { amount: event.target.value })}
            className="w-28 box"
          />
          <span className="text-soft">{choices.currency}</span>
          <label className="flex items-center gap-1">
            <input
              type="checkbox"
              checked={line.monthly}
              onChange={(event) => put(at, { monthly: event.target.checked })}
            />
            a month
          </label>
          {lines.length > 1 && (
            <Button look="quiet" onClick={() => setLines(lines.filter((_, index) => index !== at))}>
              Delete
            </Button>
          )}
        </div>
      ))}
      <span>
        <Button onClick={() => setLines([...lines, { title: "", amount: "0", monthly: false }])}>
          Add an item
        </Button>
      </span>
      <label className="flex items-center gap-2">
        Tax in percent
        <input
          type="number"
          min={0}
          max={50}
          step="0.01"
          value={tax}
          onChange={(event) => setTax(event.target.value)}
          className="w-20 box"
        />
      </label>
      <label className="flex items-center gap-2">
        Valid until
        <input
          type="date"
          required
          value={until}
          onChange={(event) => setUntil(event.target.value)}
          className="box"
        />
      </label>
      <textarea
        aria-label="Note"
        placeholder="A sentence of your own, such as when you would begin"
        value={note}
        onChange={(event) => setNote(event.target.value)}
        rows={3}
        className="box"
      />
      <p className="flex gap-1.5">
        <Button type="submit" look="main" disabled={save.isPending}>
          Save
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </p>
      <ErrorNote error={save.error} />
    </form>
  );
}
