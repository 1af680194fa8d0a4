import { useMemo, useState } from "react";
import type { Column } from "./columns";

/** Which columns a view shows, in which order and how wide; kept in this browser. */
export interface Layout {
  order: string[];
  widths: Record<string, number>;
}

const NO_WIDTHS: Record<string, number> = {};
const keyOf = (view: string) => `columns ${view}`;

function stored(view: string): Layout | null {
  try {
    const found = JSON.parse(localStorage.getItem(keyOf(view)) ?? "null");
    return Array.isArray(found?.order) ? { order: found.order, widths: found.widths ?? {} } : null;
  } catch {
    return null;
  }
}

/** The layout of a view (an angle's id, or "" for the table as such), falling back on that of the table. */
export function useColumns(all: Column[], view: string) {
  const [turn, setTurn] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: `turn` tells that the store has changed
  const layout = useMemo(() => stored(view) ?? stored(""), [view, turn]);
  const usual = useMemo(() => all.filter((column) => column.usual).map((column) => column.key), [all]);
  const order = useMemo(
    () => layout?.order.filter((key) => all.some((column) => column.key === key)) ?? usual,
    [layout, all, usual],
  );
  const widths = layout?.widths ?? NO_WIDTHS;
  const columns = useMemo(
    () =>
      order.flatMap((key) => {
        const column = all.find((item) => item.key === key);
        const width = widths[key];
        return column ? [width ? { ...column, width: `${width}px` } : column] : [];
      }),
    [all, order, widths],
  );
  // what every page holds need not be asked for; what is asked for comes on top of it
  const asked = [...new Set(columns.flatMap((column) => column.needs ?? []))].sort().join(",");
  const keep = (next: Partial<Layout>) => {
    localStorage.setItem(keyOf(view), JSON.stringify({ order, widths, ...next }));
    setTurn(turn + 1);
  };
  const forget = () => {
    localStorage.removeItem(keyOf(view));
    localStorage.removeItem(keyOf(""));
    setTurn(turn + 1);
  };
  return { columns, order, widths, asked, keep, forget };
}
