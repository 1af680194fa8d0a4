import { useVirtualizer } from "@tanstack/react-virtual";
import { type ReactNode, type RefObject, useEffect } from "react";
import type { CheckInfo, Service, Trade } from "../../api/client";
import { Strip } from "../../components/Marks";
import { ago, count, distance, host, money, when } from "../../lib/format";
import { PAGE, type Row } from "../../queries/businesses";
import { useStatus } from "../../queries/catalogue";

const ROW_HEIGHT = 30;

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

interface Column {
  key: string;
  head: string;
  headNode?: ReactNode;
  width: string;
  right?: boolean;
  wideOnly?: boolean;
  falling?: boolean;
  cell: (row: Row) => ReactNode;
}

function columnsOf({
  checks,
  services,
  trades,
  currency,
}: {
  checks: CheckInfo[];
  services: Service[];
  trades: Trade[];
  currency: string;
}): Column[] {
  const groups = [...new Set(checks.map((check) => check.group))];
  const dash = <span className="text-soft">–</span>;
  return [
    {
      key: "name",
      head: "Name",
      width: "minmax(150px,1.7fr)",
      cell: (row) => <span className="font-medium">{row.name}</span>,
    },
    {
      key: "trade",
      head: "Trade",
      width: "100px",
      wideOnly: true,
      cell: (row) => trades.find((t) => t.id === row.trade)?.label ?? row.trade,
    },
    { key: "town", head: "Town", width: "84px", wideOnly: true, cell: (row) => row.town },
    {
      key: "distance",
      head: "Away",
      width: "52px",
      right: true,
      wideOnly: true,
      cell: (row) => distance(row.distance_m),
    },
    {
      key: "gaps",
      head: "Audit",
      falling: true,
      headNode: <StripHead groups={groups} />,
      width: `${groups.length * 18 + 24}px`,
      cell: (row) => <Strip strip={row.strip} checks={checks} />,
    },
    {
      key: "offer",
      head: "Best offer",
      width: "minmax(124px,1.3fr)",
      cell: (row) =>
        services.find((service) => service.id === row.offer)?.title ??
        (row.rejected ? <em>{row.rejected}</em> : dash),
    },
    {
      key: "score",
      head: "Score",
      width: "50px",
      right: true,
      falling: true,
      cell: (row) => (row.score === null ? dash : <span className="font-semibold">{row.score}</span>),
    },
    {
      key: "value",
      head: "Value",
      width: "58px",
      right: true,
      falling: true,
      cell: (row) => money(row.value, currency),
    },
    {
      key: "reviews",
      head: "Reviews",
      width: "64px",
      right: true,
      falling: true,
      wideOnly: true,
      cell: (row) =>
        row.reviews === null
          ? dash
          : `${count(row.reviews)}${row.rating ? ` · ${row.rating.toFixed(1)}` : ""}`,
    },
    {
      key: "website",
      head: "Website",
      width: "minmax(70px,.8fr)",
      wideOnly: true,
      cell: (row) => (row.website ? host(row.website) : <span className="text-acorn">none listed</span>),
    },
    {
      key: "audited",
      head: "Audited",
      width: "58px",
      wideOnly: true,
      falling: true,
      cell: (row) =>
        row.audited_at ? <span title={when(row.audited_at)}>{ago(row.audited_at)}</span> : "not yet",
    },
  ];
}

export default function Table(props: Props) {
  const { total, rowAt, sort, cursor, open, picked, narrow, onSort, onPages, onCursor, onPick } = props;
  const currency = useStatus().data?.currency ?? "AUD";
  const columns = columnsOf({ ...props, currency }).filter((column) => !(narrow && column.wideOnly));
  // the last columns give way on narrower windows: the page never scrolls sideways
  const template = `34px ${columns.map((column) => column.width).join(" ")}`;
  const rows = useVirtualizer({
    count: total,
    getScrollElement: () => props.gridRef.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
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
          const here = item.index === cursor;
          return (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the whole desk is keyed, see useDeskKeys
            <div
              key={item.key}
              id={`row-${item.index}`}
              role="row"
              tabIndex={-1}
              aria-rowindex={item.index + 2}
              aria-selected={row ? picked.has(row.id) : false}
              data-id={row?.id}
              onClick={() => row && onCursor(item.index, row.id)}
              style={{
                gridTemplateColumns: template,
                height: ROW_HEIGHT,
                transform: `translateY(${item.start}px)`,
              }}
              className={`absolute inset-x-0 grid cursor-default items-center border-b border-faint ${row && open === row.id ? "bg-leaf-soft" : here ? "bg-faint" : "hover:bg-paper"} ${here ? "shadow-[inset_3px_0_0_var(--color-leaf)]" : ""}`}
            >
              <span role="gridcell" className="pl-3">
                {row && (
                  <input
                    type="checkbox"
                    tabIndex={-1}
                    checked={picked.has(row.id)}
                    aria-label={`Pick ${row.name}`}
                    onClick={(event) => event.stopPropagation()}
                    onChange={() => onPick(row.id)}
                    className="block size-3.5 accent-leaf"
                  />
                )}
              </span>
              {columns.map((column) => (
                <span
                  role="gridcell"
                  key={column.head}
                  className={`truncate px-1.5 ${column.right ? "text-right" : ""}`}
                >
                  {row ? column.cell(row) : <span className="block h-2.5 rounded bg-faint" />}
                </span>
              ))}
            </div>
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

/** "Security" → "Se", "Search basics" → "Sb". */
function shortOf(group: string): string {
  const words = group.split(" ");
  return words.length > 1 ? `${words[0]?.[0]}${words[words.length - 1]?.[0]}` : group.slice(0, 2);
}

/** Two letters a group, over the cells of the strip. */
function StripHead({ groups }: { groups: string[] }) {
  return (
    <span className="flex">
      <span className="sr-only">Audit, by number of gaps: </span>
      {groups.map((group) => (
        <abbr key={group} title={group} className="w-[18px] text-center text-[11px] no-underline">
          {shortOf(group)}
        </abbr>
      ))}
    </span>
  );
}
