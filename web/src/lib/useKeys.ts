import { useEffect, useRef } from "react";

const TYPING = new Set(["INPUT", "TEXTAREA", "SELECT"]);

/** Keys of a page, each with what it does. They rest while something is typed, a dialog is open, or a control that uses them has
 * the focus. */
export function useKeys(keys: Record<string, () => void>): void {
  const latest = useRef(keys);
  latest.current = keys;
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
      const act = latest.current[event.key];
      if (!act) return;
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}
