import { useState } from "react";
import type { Area, Rules, Schemas } from "../../api/client";
import { type Limits, NO_LIMITS } from "./LimitsForm";

/** A plan in the making, as the form holds it. */
export interface Draft {
  trades: string[];
  /** null: nothing was drawn yet, and the circle around the agency stands. */
  areas: Area[] | null;
  /** null: nothing was chosen yet, and every source that is set up stands. */
  sources: string[] | null;
  rules: Rules;
  facts: string[];
  limits: Limits;
  /** null: made from what is chosen. */
  name: string | null;
}

const EMPTY: Draft = {
  trades: [],
  areas: null,
  sources: null,
  rules: {},
  facts: ["website", "contacts"],
  limits: NO_LIMITS,
  name: null,
};

const typed = (number: number): string => (number ? String(number) : "");

function draftOf({ name, plan }: Schemas["SweepResponse"]): Draft {
  return {
    trades: plan.trades,
    areas: plan.areas as Area[],
    sources: plan.sources,
    rules: plan.rules as Rules,
    facts: plan.facts,
    limits: {
      wanted: typed(plan.wanted),
      requests: typed(plan.most_requests),
      cost: typed(plan.most_cost),
      language: plan.language,
    },
    name,
  };
}

/** The draft of a new sweep or of a saved one; it survives a reload of the page, and is forgotten once it is saved. */
export function useDraft(saved: Schemas["SweepResponse"] | undefined) {
  const place = `plan ${saved?.id ?? "new"}`;
  const [draft, setDraft] = useState<Draft>(() => {
    const kept = sessionStorage.getItem(place);
    return kept ? (JSON.parse(kept) as Draft) : saved ? draftOf(saved) : EMPTY;
  });
  const change = (part: Partial<Draft>) =>
    setDraft((before) => {
      const next = { ...before, ...part };
      sessionStorage.setItem(place, JSON.stringify(next));
      return next;
    });
  return { draft, change, forget: () => sessionStorage.removeItem(place) };
}
