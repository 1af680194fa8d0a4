import { useVirtualizer } from "@tanstack/react-virtual";
import { type PointerEvent, type RefObject, useEffect, useMemo, useRef, useState } from "react";
import { PAGE, type Row } from "../../queries/businesses";
import type { Column } from "./columns";
import Line, { ROW_HEIGHT } from "./Line";

interface Props {
  total: number;
  rowAt: (index: number) => Row | undefined;
  columns: Column[];
  sort: string;
  cursor: number;
  open: number | null;
  picked: ReadonlySet<number>;
  narrow: boolean;
  onSort: (next: (sort: string) => string) => void;
  onWidth: (key: string, width: number) => void;
  onPages: (pages: number[]) => void;
  onCursor: (index: number, id: number) => void;
  onPick: (id: number, index: number, range: boolean) => void;
  onHover: (id: number | null) => void;
  gridRef: RefObject<HTMLDivElement | null>;
}

export default function Table(props: Props) {
  const { total, rowAt, sort, cursor, open, picked, narrow, onSort, onPages, onCursor, onPick } = props;
  const width = useWidth(props.gridRef);
  const crowded = narrow && leastWidth(props.columns) > width;
  const columns = useMemo(
    () => props.columns.filter((column) => !(crowded && column.wideOnly)),
    [props.columns, crowded],
  );
  // what does not fit is scrolled to inside the table: the page never scrolls sideways
  const least = leastWidth(columns);
  const template = `34px ${columns.map((column) => column.width).join(" ")}`;
  const scrolling = useRef(false);
  const rows = useVirtualizer({
    count: total,
    getScrollElement: () => props.gridRef.current,
    estimateSize: () => ROW_HEIGHT,
    // a window's worth either way: a fling that is a step ahead of the drawing still meets rows; at rest, rows out of
    // sight would only make an answer slower to show
    overscan: scrolling.current ? 24 : 4,
  });
  scrolling.current = rows.isScrolling;
  const items = rows.getVirtualItems();
  const first = items[0]?.index ?? 0;
  const last = items[items.length - 1]?.index ?? 0;

  useEffect(() => {
    // one page more on either side, so that a fling meets rows that are there already
    const from = Math.max(0, Math.floor(first / PAGE) - 1);
    const to = Math.min(Math.floor(Math.max(0, total - 1) / PAGE), Math.floor(last / PAGE) + 1);
    onPages(Array.from({ length: to - from + 1 }, (_, index) => from + index));
  }, [first, last, total, onPages]);

  useEffect(() => {
    rows.scrollToIndex(cursor);
  }, [cursor, rows]);

  return (
    <div
      ref={props.gridRef}
      role="grid"
      tabIndex={0}
      aria-activedescendant={`row-${cursor}`}
      aria-label="Filtered businesses"
      aria-rowcount={total}
      aria-colcount={columns.length + 1}
      onMouseLeave={() => props.onHover(null)}
      className="min-h-0 flex-1 overflow-auto bg-sheet outline-none"
    >
      <div
        role="row"
        aria-rowindex={1}
        style={{ gridTemplateColumns: template, minWidth: least }}
        className="sticky top-0 z-10 grid h-[30px] items-center border-b border-line bg-paper text-soft"
      >
        <span role="columnheader" className="pl-3">
          <span className="sr-only">Picked</span>
        </span>
        {columns.map((column) => (
          <HeadCell key={column.key} column={column} sort={sort} onSort={onSort} onWidth={props.onWidth} />
        ))}
      </div>
      <div role="rowgroup" className="relative" style={{ height: rows.getTotalSize(), minWidth: least }}>
        {items.map((item) => {
          const row = rowAt(item.index);
          return (
            <Line
              key={item.key}
              row={row}
              index={item.index}
              start={item.start}
              columns={columns}
              template={template}
              here={item.index === cursor}
              opened={row !== undefined && open === row.id}
              picked={row !== undefined && picked.has(row.id)}
              onCursor={onCursor}
              onPick={onPick}
              onHover={props.onHover}
            />
          );
        })}
      </div>
    </div>
  );
}

/** The least width of a column, px: of "minmax(150px,1.7fr)" the first. */
const leastOf = (width: string): number => Number(/(\d+)px/.exec(width)?.[1] ?? 60);

const leastWidth = (columns: Column[]): number =>
  columns.reduce((sum, column) => sum + leastOf(column.width), 34);

/** How wide an element is, px, as it changes. */
function useWidth(element: RefObject<HTMLElement | null>): number {
  const [width, setWidth] = useState(0);
  useEffect(() => {
    if (!element.current) return;
    const watch = new ResizeObserver(([entry]) => setWidth(entry?.contentRect.width ?? 0));
    watch.observe(element.current);
    return () => watch.disconnect();
  }, [element]);
  return width;
}

const keyOf = (part: string): string => part.replace(/^-/, "");

/** The sort after a click on a head: the other way round if it is sorted by that already; `more`: after what is there. */
function sortedBy(sort: string, column: Column, more: boolean): string {
  const parts = sort.split(",").filter(Boolean);
  const now = parts.find((part) => keyOf(part) === column.key);
  const falling = now === undefined ? (column.falling ?? false) : !now.startsWith("-");
  const word = `${falling ? "-" : ""}${column.key}`;
  return more ? [...parts.filter((part) => part !== now), word].join(",") : word;
}

interface HeadProps {
  column: Column;
  sort: string;
  onSort: (next: (sort: string) => string) => void;
  onWidth: (key: string, width: number) => void;
}

/** A column's head: a click sorts by it, with Shift after what it is sorted by already; its edge is drawn to size it. */
function HeadCell({ column, sort, onSort, onWidth }: HeadProps) {
  const parts = sort.split(",").filter(Boolean);
  const place = parts.findIndex((part) => keyOf(part) === column.key);
  const active = place >= 0;
  const falling = active && (parts[place] ?? "").startsWith("-");
  const align = column.right ? "justify-end" : "justify-start";
  const sortBy = (more: boolean) => onSort((now) => sortedBy(now, column, more));
  const size = (event: PointerEvent<HTMLElement>) => {
    const head = event.currentTarget.parentElement;
    if (!head) return;
    event.preventDefault();
    const [from, width] = [event.clientX, head.getBoundingClientRect().width];
    const handle = event.currentTarget;
    handle.setPointerCapture(event.pointerId);
    const onUp = (end: globalThis.PointerEvent) => {
      handle.removeEventListener("pointerup", onUp);
      onWidth(column.key, Math.max(36, Math.round(width + end.clientX - from)));
    };
    handle.addEventListener("pointerup", onUp);
  };
  return (
    <span
      role="columnheader"
      aria-sort={active ? (falling ? "descending" : "ascending") : "none"}
      className={`relative flex min-w-0 px-1.5 ${align}`}
    >
      <button
        type="button"
        disabled={column.unsorted}
        onClick={(event) => sortBy(event.shiftKey)}
        title={column.unsorted ? undefined : "Sort by this; with Shift: add as a second sort"}
        className={`inline-flex min-w-0 items-center whitespace-nowrap enabled:hover:text-ink ${active ? "font-semibold text-ink" : ""}`}
      >
        {column.headNode ?? <span className="truncate">{column.head}</span>}
        {active && (
          <span aria-hidden="true">
            {falling ? "↓" : "↑"}
            {parts.length > 1 && <sup>{place + 1}</sup>}
          </span>
        )}
      </button>
      <span
        aria-hidden="true"
        onPointerDown={size}
        className="absolute inset-y-0 right-0 w-1.5 cursor-col-resize border-r border-transparent hover:border-leaf"
      />
    </span>
  );
}
