/** What can come of a contact. key: at the call sheet; asks: what it takes besides. */
export interface ResultKind {
  id: string;
  key: string;
  words: string;
  asks?: "day" | "amount" | "reason" | "certainty";
  look?: "good" | "grave";
}

export const RESULTS: ResultKind[] = [
  { id: "no answer", key: "n", words: "No answer" },
  { id: "call back", key: "b", words: "Call back", asks: "day" },
  { id: "talking", key: "t", words: "Talking" },
  { id: "proposed", key: "p", words: "Proposed" },
  { id: "won", key: "w", words: "Won", asks: "amount", look: "good" },
  { id: "not interested", key: "i", words: "No interest" },
  { id: "lost", key: "l", words: "Lost", asks: "reason" },
  { id: "refused", key: "r", words: "Refused", asks: "certainty", look: "grave" },
];

/** Stages that a card is not dropped on without saying more. */
export const ASKED_STAGES = new Set(["won", "lost"]);
