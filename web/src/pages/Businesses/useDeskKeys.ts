import { useEffect, useRef } from "react";

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

const TYPING = new Set(["INPUT", "TEXTAREA", "SELECT"]);

/** Keys of the desk. They rest while something is typed, a dialog is open, or a control that uses them has the focus. */
export function useDeskKeys(actions: DeskActions): void {
  const latest = useRef(actions);
  latest.current = actions;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        document.querySelector("[role=dialog], [role=menu]")
      )
        return;
      if (TYPING.has(target.tagName) && (target as HTMLInputElement).type !== "checkbox") {
        if (event.key === "Escape") target.blur();
        return;
      }
      if (event.key === "Enter" && target.tagName !== "BODY" && !target.closest("[role=grid]")) return;
      const found = KEYS.find(([keys]) => keys.includes(event.key));
      if (!found) return;
      event.preventDefault();
      latest.current[found[1]]();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}
