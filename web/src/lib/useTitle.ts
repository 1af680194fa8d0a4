import { useEffect } from "react";

/** Names the page in the browser's tab and history. */
export function useTitle(title: string) {
  useEffect(() => {
    document.title = title ? `${title} – Open Acorn` : "Open Acorn";
  }, [title]);
}
