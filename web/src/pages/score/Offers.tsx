import { useState } from "react";
import { Link } from "react-router";
import type { ServiceAsked } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { setting } from "../../lib/filter";
import { count, money } from "../../lib/format";
import { draftOf } from "../../lib/offers";
import { useAddress } from "../../lib/useAddress";
import { useTitle } from "../../lib/useTitle";
import { useCurrency, useServices } from "../../queries/catalogue";
import { useRemoved, useRestore, useSaveService } from "../../queries/desk";
import Preview from "./Preview";
import Editor from "./ServiceEditor";
import Versions from "./Versions";

const NEW = "new";
const BLANK: ServiceAsked = {
  title: "",
  sentence: "",
  fee: 500,
  monthly: 0,
  months: 0,
  delivery: 250,
  rules: [{ check: "title", weight: 3, decisive: false }],
  gates: [],
  note: "",
};

/** What the agency sells: fees, gates and weights, with what a change would do to the ranking before it is saved. */
export default function Offers() {
  const [params, change] = useAddress();
  const query = useServices();
  const services = query.data ?? [];
  const currency = useCurrency();
  const chosen = params.get("service") ?? services[0]?.id ?? "";
  const service = services.find((item) => item.id === chosen);
  useTitle("Offers");
  const choose = (id: string) => change(setting("service", id), { replace: true });
  return (
    <div className="flex h-full">
      <nav
        aria-label="Services"
        className="w-[214px] shrink-0 overflow-y-auto border-r border-line bg-sheet p-2.5"
      >
        <h1 className="px-1.5 text-[13px]">What you sell</h1>
        <ErrorNote error={query.error} />
        {services.map((item) => (
          <button
            key={item.id}
            type="button"
            aria-current={item.id === chosen ? "page" : undefined}
            onClick={() => choose(item.id)}
            className={`mt-0.5 flex w-full items-baseline gap-2 rounded-[3px] px-1.5 py-1 text-left ${item.id === chosen ? "bg-leaf-soft font-semibold text-leaf-dark" : "hover:bg-faint"}`}
          >
            <span className="min-w-0 flex-1 truncate">{item.title}</span>
            <span className="font-normal text-soft" title="margin of one sale">
              {money(item.margin, currency)}
            </span>
          </button>
        ))}
        <Button look="quiet" className="mt-2" onClick={() => choose(NEW)}>
          New service
        </Button>
        <Removed onRestored={choose} />
        <Link to="/offers/winning" className="mt-2 block px-1.5 text-leaf-dark hover:underline">
          Win probability
        </Link>
        <p className="mt-3 border-t border-line px-1.5 pt-2 text-xs text-soft">
          Score = 100 × need<sup>.6</sup> × fit<sup>.2</sup> × reach<sup>.2</sup>. Need is the weighted share
          of gaps among a service’s checks; a decisive one lifts it by itself. Unknown adds nothing.
        </p>
      </nav>
      {chosen === NEW ? (
        <Desk key={NEW} id="" start={BLANK} currency={currency} onSaved={choose} />
      ) : service ? (
        <Desk
          key={service.id}
          id={service.id}
          start={draftOf(service)}
          currency={currency}
          onSaved={choose}
        />
      ) : (
        <p className="p-6 text-soft">{query.isPending ? "Loading …" : "Choose a service on the left."}</p>
      )}
    </div>
  );
}

/** What is offered no more, to be offered again. */
function Removed({ onRestored }: { onRestored: (id: string) => void }) {
  const removed = useRemoved().data ?? [];
  const restore = useRestore();
  if (removed.length === 0) return null;
  return (
    <section aria-label="No longer offered" className="mt-3 border-t border-line pt-2">
      <h3 className="px-1.5 text-[13px]">No longer offered</h3>
      {removed.map(({ number, service }) => (
        <p key={service.id} className="flex items-baseline gap-1 px-1.5 text-soft">
          <span className="min-w-0 flex-1 truncate">{service.title}</span>
          <Button
            look="quiet"
            disabled={restore.isPending}
            onClick={() =>
              restore.mutate({ id: service.id, number }, { onSuccess: () => onRestored(service.id) })
            }
          >
            Offer again
          </Button>
        </p>
      ))}
    </section>
  );
}

interface DeskProps {
  id: string;
  start: ServiceAsked;
  currency: string;
  onSaved: (id: string) => void;
}

/** One service being changed: the rules on the left, what they would do on the right. */
function Desk({ id, start, currency, onSaved }: DeskProps) {
  const [draft, setDraft] = useState(start);
  const [notice, setNotice] = useState("");
  const save = useSaveService();
  const changed = JSON.stringify(draft) !== JSON.stringify(start);
  const keep = () =>
    save.mutate(
      { id, body: draft },
      {
        onSuccess: (result) => {
          setDraft(draftOf(result.service));
          setNotice(
            `Saved as version ${result.version}; the best offer of ${count(result.changed)} changed.`,
          );
          onSaved(result.service.id);
        },
      },
    );
  return (
    <>
      <section
        aria-label={draft.title || "A new service"}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard
        tabIndex={0}
        className="min-w-0 flex-1 overflow-y-auto px-6 py-4"
      >
        <Editor
          draft={draft}
          currency={currency}
          onChange={(next) => {
            setNotice("");
            setDraft(next);
          }}
        />
        <div className="sticky bottom-0 mt-4 flex items-center gap-2 border-t border-line bg-paper py-2">
          <Button look="main" disabled={!changed || save.isPending || !draft.title.trim()} onClick={keep}>
            {save.isPending ? "Saving …" : "Save"}
          </Button>
          <Button disabled={!changed} onClick={() => setDraft(start)}>
            Cancel
          </Button>
          <input
            value={draft.note ?? ""}
            onChange={(event) => setDraft({ ...draft, note: event.target.value })}
            placeholder="Reason for the change"
            aria-label="Why it is changed"
            className="w-56 rounded-[3px] border border-line bg-white px-2 py-1"
          />
          <output className="text-leaf-dark">{notice}</output>
          <ErrorNote error={save.error} />
        </div>
        {id && <Versions id={id} onRestored={(service) => setDraft(draftOf(service))} />}
      </section>
      <Preview id={id} draft={draft} changed={changed} />
    </>
  );
}
