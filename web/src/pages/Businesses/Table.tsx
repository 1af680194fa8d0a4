import { useVirtualizer } from "@tanstack/react-virtual";
import { type RefObject, useEffect, useMemo } from "react";
import type { CheckInfo, Service, Trade } from "../../api/client";
import { PAGE, type Row } from "../../queries/businesses";
import { useStatus } from "../../queries/catalogue";
import { type Column, columnsOf } from "./columns";
import Line, { ROW_HEIGHT } from "./Line";

interface Props {
  total: number;
  rowAt: (index: number) => Row | undefined;
  checks: CheckInfo[];
  services: Service[];
  trades: Trade[];
  sort: string;
  cursor: number;
  open: number | null;
  picked: ReadonlySet<number>;
  narrow: boolean;
  onSort: (key: string) => void;
  onPages: (pages: number[]) => void;
  onCursor: (index: number, id: number) => void;
  onPick: (id: number) => void;
  gridRef: RefObject<HTMLDivElement | null>;
}

export default function Table(props: Props) {
  const { total, rowAt, sort, cursor, open, picked, narrow, onSort, onPages, onCursor, onPick } = props;
  const currency = useStatus().data?.currency ?? "AUD";
  const { checks, services, trades } = props;
  const columns = useMemo(
    () => columnsOf({ checks, services, trades, currency }).filter((column) => !(narrow && column.wideOnly)),
    [checks, services, trades, currency, narrow],
  );
  // the last columns give way on narrower windows: the page never scrolls sideways
  const template = `34px ${columns.map((column) => column.width).join(" ")}`;
  const rows = useVirtualizer({
    count: total,
    getScrollElement: () => props.gridRef.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 24, // a window's worth either way: a fling that is a step ahead of the drawing still meets rows
  });
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
      aria-label="Businesses that pass the filter"
      aria-rowcount={total}
      aria-colcount={columns.length + 1}
      className="min-h-0 flex-1 overflow-x-hidden overflow-y-auto bg-sheet outline-none"
    >
      <div
        role="row"
        aria-rowindex={1}
        style={{ gridTemplateColumns: template }}
        className="sticky top-0 z-10 grid h-[30px] items-center border-b border-line bg-paper text-soft"
      >
        <span role="columnheader" className="pl-3">
          <span className="sr-only">Picked</span>
        </span>
        {columns.map((column) => (
          <HeadCell key={column.head} column={column} sort={sort} onSort={onSort} />
        ))}
      </div>
      <div role="rowgroup" className="relative" style={{ height: rows.getTotalSize() }}>
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
            />
          );
        })}
      </div>
    </div>
  );
}

function HeadCell({ column, sort, onSort }: { column: Column; sort: string; onSort: (key: string) => void }) {
  const bare = sort.replace(/^-/, "");
  const active = bare === column.key;
  const falling = sort.startsWith("-");
  const align = column.right ? "text-right" : "text-left";
  const next = active ? (falling ? bare : `-${bare}`) : column.falling ? `-${column.key}` : column.key;
  return (
    <span
      role="columnheader"
      aria-sort={active ? (falling ? "descending" : "ascending") : "none"}
      className={`px-1.5 ${align}`}
    >
      <button
        type="button"
        onClick={() => onSort(next)}
        className={`inline-flex items-center whitespace-nowrap hover:text-ink ${active ? "font-semibold text-ink" : ""}`}
      >
        {column.headNode ?? column.head}
        {active && <span aria-hidden="true">{falling ? "↓" : "↑"}</span>}
      </button>
    </span>
  );
}
