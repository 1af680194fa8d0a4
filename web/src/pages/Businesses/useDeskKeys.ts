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
  [["Enter"], "open", "open it beside the table"],
  [["Escape"], "close", "close it"],
  [["e"], "whole", "open it as a page of its own"],
  [["x"], "pick", "pick it, or let it go"],
  [["s"], "shortlist", "put what is picked on a shortlist"],
  [["r"], "reject", "reject what is picked, with a reason"],
  [["t"], "tag", "tag what is picked, or note a standing"],
  [["n"], "note", "write a note on the open business"],
  [["c"], "compare", "lay what is picked side by side"],
  [["o"], "site", "open its website in a new tab"],
  [["m"], "map", "table or map"],
  [["u"], "undo", "undo the last thing done"],
  [["/"], "search", "search names, towns and sites"],
  [["?"], "help", "this sheet"],
];

/** Keys of the desk. */
export function useDeskKeys(actions: DeskActions): void {
  useKeys(Object.fromEntries(KEYS.flatMap(([keys, action]) => keys.map((key) => [key, actions[action]]))));
}
