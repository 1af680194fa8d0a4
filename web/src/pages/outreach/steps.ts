import type { Schemas } from "../../api/client";

export type Step = Schemas["StepModel"];
export type When = NonNullable<Step["when"]>;

/** What a step does, as short as a table needs it. */
export const STEP_WORDS: Record<Step["kind"], string> = {
  email: "e-mail",
  page: "owner’s page",
  call: "call",
  text: "text message",
  social: "social message",
};

/** When a step is done. */
export const WHEN_WORDS: Record<When, string> = {
  always: "always",
  "page opened": "if their page was opened",
  "page not opened": "if their page was not opened",
  bounced: "after a bounce",
  replied: "after a reply",
};
