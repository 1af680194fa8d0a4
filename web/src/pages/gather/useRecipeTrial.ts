import { useState } from "react";
import type { Schemas } from "../../api/client";
import { type Draft, useTryRecipe } from "../../queries/gathering";

export type Clicked = Schemas["Clicked"];
type Found = Schemas["PageResponse"];

/** A new directory's recipe before anything is known of it. */
export const UNREACHED: Draft = {
  id: 0,
  title: "",
  address: "",
  item: "",
  fields: [],
  next: "",
  limit: 50,
  pace_s: 1,
  header: "",
  form: {},
  more: "",
  log_in: "",
  log_in_form: {},
  user: "",
  own_page: "",
  details: [],
  structured: false,
  drawn: false,
  results: false,
  usual: [],
  secret_kept: false,
};

/** A recipe being made on a page: what was asked, what it reads there, and what a click changes. */
export function useRecipeTrial() {
  const [asked, setAsked] = useState({ address: "", term: "", place: "" });
  const [plan, setPlan] = useState<Draft | null>(null);
  const [found, setFound] = useState<Found>();
  const [own, setOwn] = useState<Found>();
  const attempt = useTryRecipe();

  const body = ({ id, secret_kept: _, ...by }: Draft) => ({
    ...asked,
    title: by.title,
    plan: { ...by, title: by.title || "New directory" },
    plan_id: id,
    own: false,
    page: "",
    clicked: null,
  });
  const keep = (by: Draft, answer: Found) =>
    setPlan({ ...answer.plan, id: by.id, secret_kept: by.secret_kept, secret: by.secret });

  /** Fetch the page anew and read it by a recipe; without an item its list is looked for. */
  const read = (by: Draft) =>
    attempt.mutate(body(by), {
      onSuccess: (answer) => {
        setFound(answer);
        setOwn(undefined);
        keep(by, answer);
      },
    });
  /** Read the page that is shown by a recipe. */
  const show = (by: Draft, clicked: Clicked | null = null) =>
    attempt.mutate(
      { ...body(by), page: found?.page ?? "", clicked },
      {
        onSuccess: (answer) => {
          setFound({ ...answer, others: found?.others ?? [] });
          keep(by, answer);
        },
      },
    );
  /** Read one business's own page for the details. */
  const readOwn = (by: Draft, address: string, clicked: Clicked | null = null) =>
    attempt.mutate(
      { ...body(by), address, own: true, page: clicked ? (own?.page ?? "") : "", clicked },
      {
        onSuccess: (answer) => {
          setOwn(answer);
          keep(by, answer);
        },
      },
    );
  const close = () => {
    setPlan(null);
    setFound(undefined);
    setOwn(undefined);
    attempt.reset();
  };
  return { asked, setAsked, plan, setPlan, found, own, attempt, read, show, readOwn, close };
}

export type RecipeTrial = ReturnType<typeof useRecipeTrial>;
