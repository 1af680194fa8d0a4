import { useKeys } from "../../lib/useKeys";

export interface DeskActions {
  next: () => void;
  previous: () => void;
  open: () => void;
  close: () => void;
  pick: () => void;
  shortlist: () => void;
  reject: () => void;
  tag: () => void;
  note: () => void;
  whole: () => void;
  compare: () => void;
  site: () => void;
  map: () => void;
  undo: () => void;
  search: () => void;
  help: () => void;
}

export const KEYS: [string[], keyof DeskActions, string][] = [
  [["j", "ArrowDown"], "next", "next business"],
  [["k", "ArrowUp"], "previous", "previous business"],
  [["Enter"], "open", "open it in the side panel"],
  [["Escape"], "close", "close it"],
  [["e"], "whole", "open it as a full page"],
  [["x"], "pick", "select or deselect it"],
  [["s"], "shortlist", "add the selected to a shortlist"],
  [["r"], "reject", "reject the selected, with a reason"],
  [["t"], "tag", "tag the selected, or mark as client or do-not-contact"],
  [["n"], "note", "write a note on the open business"],
  [["c"], "compare", "compare the selected"],
  [["o"], "site", "open its website in a new tab"],
  [["m"], "map", "switch between table and map"],
  [["u"], "undo", "undo the last action"],
  [["/"], "search", "search names, towns and sites"],
  [["?"], "help", "this sheet"],
];

/** Keys of the desk. */
export function useDeskKeys(actions: DeskActions): void {
  useKeys(Object.fromEntries(KEYS.flatMap(([keys, action]) => keys.map((key) => [key, actions[action]]))));
}
