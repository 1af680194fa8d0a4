import { useState } from "react";
import type { Service } from "../api/client";
import { RESULTS, type ResultKind } from "../lib/results";
import { author } from "../lib/session";
import { type ContactAsked, useNoteContact } from "../queries/outreach";
import { ErrorNote } from "./ErrorNote";
import { Key } from "./Key";
import ResultForm from "./ResultForm";

export interface Results {
  asking: ResultKind | null;
  error: Error | null;
  busy: boolean;
  choose: (kind: ResultKind) => void;
  send: (asked: ContactAsked) => void;
  close: () => void;
}

/** Notes results of one business; `note` is written beside the next one. */
export function useResults(
  business: number,
  service: string,
  note: string,
  onDone: (action: { id: number; text: string }) => void,
): Results {
  const contact = useNoteContact(business);
  const [asking, setAsking] = useState<ResultKind | null>(null);
  const send = (asked: ContactAsked) => {
    const words = [asked.note?.trim(), note.trim()].filter(Boolean).join("; ");
    // a promise, as what is noted may take this business, and so this component, off the screen
    contact.mutateAsync({ service, by: author(), ...asked, note: words }).then(
      (action) => {
        setAsking(null);
        onDone(action);
      },
      () => undefined,
    );
  };
  const choose = (kind: ResultKind) => (kind.asks ? setAsking(kind) : send({ result: kind.id }));
  return {
    asking,
    error: contact.error,
    busy: contact.isPending,
    choose,
    send,
    close: () => setAsking(null),
  };
}

const LOOKS = {
  plain: "border-line bg-sheet hover:border-leaf",
  good: "border-leaf bg-leaf text-white hover:bg-leaf-dark",
  grave: "border-alarm bg-sheet text-alarm hover:bg-acorn-soft/60",
};

interface Props {
  results: Results;
  services: Service[];
  service: string;
  currency: string;
  keys?: boolean;
  /** Not yet: what is offered is still being asked for. */
  waiting?: boolean;
}

/** The buttons for what came of it, and what one of them asks besides. */
export default function ResultButtons({
  results,
  services,
  service,
  currency,
  keys = false,
  waiting = false,
}: Props) {
  return (
    <div>
      <div className="flex flex-wrap gap-1">
        {RESULTS.map((kind) => (
          <button
            key={kind.id}
            type="button"
            disabled={results.busy || waiting}
            aria-pressed={results.asking?.id === kind.id}
            onClick={() => results.choose(kind)}
            className={`inline-flex items-center gap-1 rounded-[3px] border px-2 py-1 font-medium whitespace-nowrap disabled:opacity-50 ${LOOKS[kind.look ?? "plain"]}`}
          >
            {keys && <Key>{kind.key}</Key>}
            {kind.words}
          </button>
        ))}
      </div>
      {results.asking && (
        <div className="mt-2">
          <ResultForm
            key={results.asking.id}
            kind={results.asking}
            services={services}
            service={service}
            currency={currency}
            busy={results.busy}
            onSend={results.send}
            onClose={results.close}
          />
        </div>
      )}
      <ErrorNote error={results.error} />
    </div>
  );
}
