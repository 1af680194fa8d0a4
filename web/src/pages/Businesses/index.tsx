import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { CheckInfo, Service, Trade } from "../../api/client";
import { Empty, ErrorNote } from "../../components/Bits";
import { cleared, filterOf } from "../../lib/filter";
import { PAGE, type Row, useGrid } from "../../queries/businesses";
import { useChecks, useServices, useStatus, useTrades } from "../../queries/catalogue";
import Facets from "./Facets";
import HelpSheet from "./HelpSheet";
import Panel from "./Panel";
import Table from "./Table";
import Toolbar from "./Toolbar";
import { useDeskKeys } from "./useDeskKeys";

const NO_CHECKS: CheckInfo[] = [];
const NO_SERVICES: Service[] = [];
const NO_TRADES: Trade[] = [];

export default function Businesses() {
  const [params, setParams] = useSearchParams();
  const filter = useMemo(() => filterOf(params), [params]);
  const sort = params.get("sort") ?? "-value";
  const open = params.get("b") ? Number(params.get("b")) : null;
  const [pages, setPages] = useState<number[]>([0]);
  const [cursor, setCursor] = useState(0);
  const [picked, setPicked] = useState<ReadonlySet<number>>(new Set());
  const [help, setHelp] = useState(false);
  const search = useRef<HTMLInputElement>(null);
  const table = useRef<HTMLDivElement>(null);
  const pickMenu = useRef<HTMLButtonElement>(null);
  const live = (useStatus().data?.running.length ?? 0) > 0;
  const checks = useChecks().data ?? NO_CHECKS;
  const services = useServices().data ?? NO_SERVICES;
  const trades = useTrades().data ?? NO_TRADES;
  const grid = useGrid(filter, sort, pages, live);
  const rowAt = useCallback(
    (index: number): Row | undefined => grid.byPage.get(Math.floor(index / PAGE))?.rows[index % PAGE],
    [grid.byPage],
  );

  const change = useCallback((next: URLSearchParams) => setParams(next, { replace: false }), [setParams]);
  const setFilter = useCallback(
    (next: URLSearchParams) => {
      setCursor(0);
      setPages([0]);
      change(next);
    },
    [change],
  );
  const show = useCallback(
    (id: number | null) => {
      setParams(
        (before) => {
          const next = new URLSearchParams(before);
          if (id === null) next.delete("b");
          else next.set("b", String(id));
          return next;
        },
        { replace: true },
      );
    },
    [setParams],
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
      show(id);
    },
    [show],
  );
  const toggle = useCallback((id: number) => {
    setPicked((before) => {
      const next = new Set(before);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  }, []);

  useDeskKeys({
    next: () => move(cursor + 1),
    previous: () => move(cursor - 1),
    open: () => show(rowAt(cursor)?.id ?? null),
    close: () => show(null),
    pick: () => {
      const row = rowAt(cursor);
      if (row) toggle(row.id);
    },
    shortlist: () => pickMenu.current?.click(),
    site: () => {
      const website = rowAt(cursor)?.website;
      if (website) window.open(website, "_blank", "noopener");
    },
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

  useEffect(() => {
    document.title = "Businesses – Open Acorn";
  }, []);

  const nothingHeld = grid.all === 0 && grid.total === 0;
  return (
    <div className="flex h-full">
      <Facets
        params={params}
        filter={filter}
        live={live}
        checks={checks}
        trades={trades}
        services={services}
        onChange={setFilter}
      />
      <section aria-label="Businesses" className="flex min-w-0 flex-1 flex-col">
        <Toolbar
          params={params}
          filter={filter}
          sort={sort}
          total={grid.total}
          all={grid.all}
          sentence={grid.sentence}
          picked={picked}
          searchRef={search}
          pickRef={pickMenu}
          onChange={setFilter}
          onPicked={setPicked}
          onHelp={() => setHelp(true)}
        />
        {grid.error && <ErrorNote error={grid.error} />}
        {nothingHeld ? (
          <Empty title="No businesses yet">
            Plan a{" "}
            <a className="text-leaf-dark underline" href="/sweeps/new">
              sweep
            </a>
            : rows appear here while it runs.
          </Empty>
        ) : grid.total === 0 ? (
          <Empty title="Nothing passes this filter">
            <button
              type="button"
              className="text-leaf-dark underline"
              onClick={() => setFilter(cleared(params))}
            >
              Clear the filter
            </button>{" "}
            or take away one part of it on the left.
          </Empty>
        ) : (
          <Table
            total={grid.total ?? 0}
            rowAt={rowAt}
            checks={checks}
            services={services}
            trades={trades}
            sort={sort}
            cursor={cursor}
            open={open}
            picked={picked}
            narrow={open !== null}
            onSort={(key) => {
              const next = new URLSearchParams(params);
              next.set("sort", key);
              setFilter(next);
            }}
            onPages={setPages}
            onCursor={openAt}
            onPick={toggle}
            gridRef={table}
          />
        )}
      </section>
      {open !== null && <Panel id={open} services={services} onClose={() => show(null)} />}
      <HelpSheet open={help} onClose={() => setHelp(false)} />
    </div>
  );
}
