import { lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { CheckInfo, Schemas, Service, Trade } from "../../api/client";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { Loading } from "../../components/Loading";
import UndoNote, { useActionLog } from "../../components/UndoNote";
import { type Change, cleared, filterOf, sameFilter, setting, withParam } from "../../lib/filter";
import { useAddress } from "../../lib/useAddress";
import { useTitle } from "../../lib/useTitle";
import { PAGE, type Row, useAhead, useBusinessColumns, useGrid } from "../../queries/businesses";
import { useChecks, useCurrency, useServices, useStatus, useTrades } from "../../queries/catalogue";
import { useAngles } from "../../queries/desk";
import AngleBanner from "./AngleBanner";
import { columnsOf } from "./columns";
import Table from "./Table";
import { useColumns } from "./useColumns";
import { useDeskKeys } from "./useDeskKeys";

// the table comes first: what stands around it loads beside it
const Facets = lazy(() => import("./Facets"));
const Toolbar = lazy(() => import("./Toolbar"));
const DeskMap = lazy(() => import("./DeskMap"));
const HelpSheet = lazy(() => import("./HelpSheet"));
const loadPanel = () => import("./Panel");
const Panel = lazy(loadPanel);
const NO_CHECKS: CheckInfo[] = [];
const NO_SERVICES: Service[] = [];
const NO_COLUMNS: Schemas["BusinessColumnResponse"][] = [];
const NO_TRADES: Trade[] = [];
const PANEL_AFTER_MS = 1500;
const FIRST_SORT = "-value";

/** Puts the cursor into the note as soon as the panel is there. */
function focusNote(tries = 40): void {
  const note = document.querySelector<HTMLTextAreaElement>("[data-note]");
  if (note) note.focus();
  else if (tries > 0) setTimeout(() => focusNote(tries - 1), 50);
}

export default function Businesses() {
  const [params, change] = useAddress();
  const navigate = useNavigate();
  const filter = useMemo(() => filterOf(params), [params]);
  const sort = params.get("sort") ?? FIRST_SORT;
  const open = params.get("b") ? Number(params.get("b")) : null;
  const onMap = params.get("view") === "map";
  const [pages, setPages] = useState<number[]>([0]);
  const [cursor, setCursor] = useState(0);
  const [picked, setPicked] = useState<ReadonlySet<number>>(new Set());
  const [hovered, setHovered] = useState<number | null>(null);
  const [help, setHelp] = useState(false);
  const anchor = useRef(0);
  const search = useRef<HTMLInputElement>(null);
  const table = useRef<HTMLDivElement>(null);
  const pickMenu = useRef<HTMLButtonElement>(null);
  const rejectMenu = useRef<HTMLButtonElement>(null);
  const tagMenu = useRef<HTMLButtonElement>(null);
  const refs = useMemo(() => ({ search, pick: pickMenu, reject: rejectMenu, tag: tagMenu }), []);
  useEffect(() => {
    const timer = setTimeout(loadPanel, PANEL_AFTER_MS); // once the table is there, so that the panel opens at once
    return () => clearTimeout(timer);
  }, []);
  const live = (useStatus().data?.running.length ?? 0) > 0;
  const currency = useCurrency();
  const checks = useChecks().data ?? NO_CHECKS;
  const services = useServices().data ?? NO_SERVICES;
  const known = useBusinessColumns().data ?? NO_COLUMNS;
  const trades = useTrades().data ?? NO_TRADES;
  const angle = useAngles(live).data?.find((item) => sameFilter(item.filter, filter));
  const allColumns = useMemo(
    () => columnsOf({ checks, services, trades, currency, known }),
    [checks, services, trades, currency, known],
  );
  const layout = useColumns(allColumns, angle?.id ?? "");
  const grid = useGrid(filter, sort, pages, live, layout.asked);
  const ahead = useAhead(sort, layout.asked);
  const actions = useActionLog();
  const rowAt = useCallback(
    (index: number): Row | undefined => grid.byPage.get(Math.floor(index / PAGE))?.rows[index % PAGE],
    [grid.byPage],
  );

  // rows come and go with every answer: what is handed to each line must not change with them
  const latestRow = useRef(rowAt);
  latestRow.current = rowAt;

  const setFilter = useCallback(
    (to: Change) => {
      setCursor(0);
      setPages([0]);
      ahead(filterOf(change(to)));
    },
    [change, ahead],
  );
  const show = useCallback(
    (id: number | null) => change(setting("b", id === null ? "" : String(id)), { replace: true }),
    [change],
  );
  const move = useCallback(
    (to: number) => {
      const index = Math.max(0, Math.min(to, (grid.total ?? 1) - 1));
      setCursor(index);
      table.current?.focus({ preventScroll: true }); // so that Enter opens the row, not what was clicked last
      const row = rowAt(index);
      if (open !== null && row) show(row.id);
    },
    [grid.total, open, rowAt, show],
  );
  const openAt = useCallback(
    (index: number, id: number) => {
      setCursor(index);
      anchor.current = index;
      show(id);
    },
    [show],
  );
  const toggle = useCallback((id: number, index: number, range: boolean) => {
    const [from, to] = [Math.min(anchor.current, index), Math.max(anchor.current, index)];
    anchor.current = index;
    setPicked((before) => {
      const next = new Set(before);
      if (range) {
        for (let at = from; at <= to; at++) next.add(latestRow.current(at)?.id ?? id);
      } else if (!next.delete(id)) next.add(id);
      return next;
    });
  }, []);
  const sortBy = useCallback(
    (next: (sort: string) => string) =>
      setFilter((now) => withParam(now, "sort", next(now.get("sort") ?? FIRST_SORT))),
    [setFilter],
  );
  const setMap = useCallback(
    () => change(setting("view", onMap ? "" : "map"), { replace: true }),
    [change, onMap],
  );

  useDeskKeys({
    next: () => move(cursor + 1),
    previous: () => move(cursor - 1),
    open: () => show(rowAt(cursor)?.id ?? null),
    close: () => show(null),
    pick: () => {
      const row = rowAt(cursor);
      if (row) toggle(row.id, cursor, false);
    },
    shortlist: () => pickMenu.current?.click(),
    reject: () => rejectMenu.current?.click(),
    tag: () => tagMenu.current?.click(),
    note: () => {
      const row = rowAt(cursor);
      if (open === null && row) show(row.id);
      focusNote();
    },
    whole: () => {
      const row = rowAt(cursor);
      if (row) navigate(`/businesses/${open ?? row.id}`);
    },
    compare: () => {
      if (picked.size > 1 && picked.size <= 4) navigate(`/businesses/compare?ids=${[...picked].join(",")}`);
    },
    site: () => {
      const website = rowAt(cursor)?.website;
      if (website) window.open(website, "_blank", "noopener");
    },
    map: setMap,
    undo: actions.undo,
    search: () => search.current?.focus(),
    help: () => setHelp(true),
  });

  // an address that opens a business puts the cursor on its row, so that "next" goes on from there
  const placed = useRef(false);
  const firstRows = grid.byPage.get(0)?.rows;
  useEffect(() => {
    if (placed.current || !firstRows) return;
    placed.current = true;
    setCursor(Math.max(0, open === null ? 0 : firstRows.findIndex((row) => row.id === open)));
  }, [firstRows, open]);

  useTitle("Businesses");

  const nothingHeld = grid.all === 0 && grid.total === 0;
  return (
    <div className="flex h-full">
      <h1 className="sr-only">Businesses</h1>
      <Suspense fallback={<div className="w-[214px] shrink-0 border-r border-line bg-sheet" />}>
        <Facets
          params={params}
          filter={filter}
          live={live}
          checks={checks}
          trades={trades}
          services={services}
          onChange={setFilter}
        />
      </Suspense>
      <section aria-label="Businesses" className="relative flex min-w-0 flex-1 flex-col overflow-hidden">
        <Suspense fallback={<div className="h-[71px] shrink-0 border-b border-line bg-paper" />}>
          <Toolbar
            trades={trades}
            services={services}
            params={params}
            filter={filter}
            sort={sort}
            total={grid.total}
            all={grid.all}
            clauses={grid.clauses}
            picked={picked}
            current={rowAt(cursor)?.id}
            refs={refs}
            columns={{
              all: allColumns,
              order: layout.order,
              onOrder: (order) => layout.keep({ order }),
              onUsual: layout.forget,
            }}
            map={onMap}
            onMap={setMap}
            onChange={setFilter}
            onPicked={setPicked}
            onAction={actions.note}
            onHelp={() => setHelp(true)}
          />
        </Suspense>
        {angle && <AngleBanner angle={angle} services={services} currency={currency} />}
        {grid.error && <ErrorNote error={grid.error} />}
        {nothingHeld ? (
          <Empty title="No businesses yet">
            Plan a{" "}
            <a className="text-leaf-dark underline" href="/sweeps/new">
              sweep
            </a>
            : rows appear here while it runs. Or{" "}
            <a className="text-leaf-dark underline" href="/sweeps/files">
              import a list
            </a>{" "}
            you have.
          </Empty>
        ) : grid.total === 0 ? (
          <Empty title="No business matches this filter">
            <button type="button" className="text-leaf-dark underline" onClick={() => setFilter(cleared)}>
              Clear the filter
            </button>{" "}
            or remove one part of it on the left.
          </Empty>
        ) : onMap ? (
          <Suspense fallback={<Loading what="the map" className="p-4" />}>
            <DeskMap
              filter={filter}
              params={params}
              services={services}
              live={live}
              open={open}
              hovered={hovered}
              onHover={setHovered}
              onOpen={show}
              onChange={setFilter}
            />
          </Suspense>
        ) : (
          <Table
            total={grid.total ?? 0}
            rowAt={rowAt}
            columns={layout.columns}
            sort={sort}
            cursor={cursor}
            open={open}
            picked={picked}
            narrow={open !== null}
            onSort={sortBy}
            onWidth={(key, width) => layout.keep({ widths: { ...layout.widths, [key]: width } })}
            onPages={setPages}
            onCursor={openAt}
            onPick={toggle}
            onHover={setHovered}
            gridRef={table}
          />
        )}
        <UndoNote actions={actions} />
      </section>
      <Suspense fallback={null}>
        {open !== null && <Panel id={open} services={services} onClose={() => show(null)} />}
        {help && <HelpSheet open onClose={() => setHelp(false)} />}
      </Suspense>
    </div>
  );
}
