import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import {
  ArrowDownTrayIcon,
  LinkIcon,
  MapIcon,
  QuestionMarkCircleIcon,
  TableCellsIcon,
} from "@heroicons/react/16/solid";
import { lazy, type RefObject, Suspense, useEffect, useState } from "react";
import { Link } from "react-router";
import type { Service, Trade } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import May from "../../components/May";
import { type Change, setting } from "../../lib/filter";
import { count } from "../../lib/format";
import type { Clause } from "../../queries/businesses";
import { type Chosen, useAction } from "../../queries/desk";
import { useMakeShortlist, useShortlists } from "../../queries/shortlists";
import ActMenu from "./ActMenu";
import AuditMenu from "./AuditMenu";
import ColumnsMenu from "./ColumnsMenu";
import type { Column } from "./columns";
import Sentence from "./Sentence";

const ExportDialog = lazy(() => import("./ExportDialog"));
const ViewLinks = lazy(() => import("./ViewLinks"));
const TYPING_PAUSE_MS = 180;

interface Refs {
  search: RefObject<HTMLInputElement | null>;
  pick: RefObject<HTMLButtonElement | null>;
  reject: RefObject<HTMLButtonElement | null>;
  tag: RefObject<HTMLButtonElement | null>;
}

interface Props {
  trades: Trade[];
  services: Service[];
  params: URLSearchParams;
  filter: Record<string, string>;
  sort: string;
  total: number | undefined;
  all: number | undefined;
  clauses: Clause[];
  picked: ReadonlySet<number>;
  current: number | undefined;
  refs: Refs;
  columns: { all: Column[]; order: string[]; onOrder: (order: string[]) => void; onUsual: () => void };
  map: boolean;
  onMap: () => void;
  onChange: (change: Change) => void;
  onPicked: (ids: ReadonlySet<number>) => void;
  onAction: (action: { id: number; text: string } | null, error: Error | null) => void;
  onHelp: () => void;
}

interface SearchProps {
  name: string;
  label: string;
  hint: string;
  width: string;
  params: URLSearchParams;
  searchRef?: RefObject<HTMLInputElement | null>;
  onChange: (change: Change) => void;
}

function Search({ name, label, hint, width, params, searchRef, onChange }: SearchProps) {
  const inAddress = params.get(name) ?? "";
  const [text, setText] = useState(inAddress);
  useEffect(() => setText(inAddress), [inAddress]);
  useEffect(() => {
    if (text === inAddress) return;
    const timer = setTimeout(() => onChange(setting(name, text)), TYPING_PAUSE_MS);
    return () => clearTimeout(timer);
  }, [name, text, inAddress, onChange]);
  return (
    <input
      ref={searchRef}
      type="search"
      value={text}
      onChange={(event) => setText(event.target.value)}
      placeholder={hint}
      aria-label={label}
      className={`${width} rounded-[3px] border border-line bg-sheet px-2 py-1 placeholder:text-soft`}
    />
  );
}

export default function Toolbar(props: Props) {
  const { params, filter, sort, total, all, clauses, picked, refs, onChange, onPicked, onAction } = props;
  const [exporting, setExporting] = useState(false);
  const [sharing, setSharing] = useState(false);
  const ids = [...picked];
  const many = ids.length || (total ?? 0);
  const chosen: Chosen = ids.length ? { ids } : { filter };
  // a key that acts with nothing picked is about the row under the cursor, not about all that match
  const acting: Chosen = ids.length ? { ids } : { ids: props.current === undefined ? [] : [props.current] };
  const shown: Record<string, string> = ids.length ? { ids: ids.join(","), state: "all" } : filter;
  const done = (action: { id: number; text: string } | null, error: Error | null) => {
    if (action) onPicked(new Set());
    onAction(action, error);
  };
  return (
    <div className="border-b border-line bg-paper px-3 py-2">
      <div className="flex flex-wrap items-center gap-1.5">
        <Search
          name="q"
          label="Search names, towns and sites"
          hint="Name, town or site  /"
          width="w-[110px] min-w-[104px] max-w-[160px] flex-1"
          params={params}
          searchRef={refs.search}
          onChange={onChange}
        />
        <May what="people">
          <Search
            name="pages"
            label="Search in page text"
            hint="Page text"
            width="w-[96px] min-w-[96px] max-w-[130px] flex-1"
            params={params}
            onChange={onChange}
          />
        </May>
        <span className="ml-auto flex flex-wrap items-center gap-1.5">
          {ids.length > 0 && (
            <>
              <Button look="quiet" onClick={() => onPicked(new Set())}>
                deselect {count(ids.length)}
              </Button>
              {ids.length > 1 && ids.length <= 4 && (
                <Link
                  to={`/businesses/compare?ids=${ids.join(",")}`}
                  className="px-1 font-medium text-leaf-dark underline-offset-2 hover:underline"
                >
                  Compare
                </Link>
              )}
            </>
          )}
          <May what="work">
            <ActMenu
              chosen={acting}
              many={ids.length || (props.current === undefined ? 0 : 1)}
              rejectRef={refs.reject}
              tagRef={refs.tag}
              onDone={done}
            />
            <AuditMenu ids={ids} filter={filter} total={total ?? 0} />
            <ShortlistMenu
              buttonRef={refs.pick}
              ids={ids}
              chosen={chosen}
              total={total ?? 0}
              onDone={(action) => done(action, null)}
            />
          </May>
          <May what="export">
            <Button
              onClick={() => setExporting(true)}
              disabled={many === 0}
              aria-label={`Export ${count(many)}`}
            >
              <ArrowDownTrayIcon className="size-3.5" /> Export
            </Button>
            <Button
              onClick={() => setSharing(true)}
              disabled={many === 0}
              title="Share by a link"
              aria-label="Share by a link"
              className="px-1.5"
            >
              <LinkIcon className="size-4" />
            </Button>
          </May>
          <Button
            aria-pressed={props.map}
            onClick={props.onMap}
            title={props.map ? "As a table (m)" : "On a map (m)"}
            aria-label={props.map ? "Table" : "Map"}
            className="px-1.5"
          >
            {props.map ? <TableCellsIcon className="size-4" /> : <MapIcon className="size-4" />}
          </Button>
          {!props.map && <ColumnsMenu {...props.columns} />}
          <button
            type="button"
            onClick={props.onHelp}
            aria-label="Keyboard shortcuts"
            className="p-1 text-soft hover:text-ink"
          >
            <QuestionMarkCircleIcon className="size-4" />
          </button>
        </span>
      </div>
      <Sentence
        clauses={clauses}
        total={total}
        all={all}
        params={params}
        filter={filter}
        trades={props.trades}
        services={props.services}
        onChange={onChange}
      />
      <May what="export">
        <Suspense fallback={null}>
          {exporting && (
            <ExportDialog open filter={shown} sort={sort} many={many} onClose={() => setExporting(false)} />
          )}
          {sharing && (
            <ViewLinks open filter={shown} sort={sort} many={many} onClose={() => setSharing(false)} />
          )}
        </Suspense>
      </May>
    </div>
  );
}

interface MenuProps {
  buttonRef: RefObject<HTMLButtonElement | null>;
  ids: number[];
  chosen: Chosen;
  total: number;
  onDone: (action: { id: number; text: string }) => void;
}

function ShortlistMenu({ buttonRef, ids, chosen, total, onDone }: MenuProps) {
  const lists = useShortlists().data ?? [];
  const make = useMakeShortlist();
  const action = useAction();
  const [name, setName] = useState("");
  const what = ids.length ? count(ids.length) : `all ${count(total)}`;
  const put = async (shortlist: number | { name: string }) => {
    const list = typeof shortlist === "number" ? shortlist : (await make.mutateAsync(shortlist.name)).id;
    onDone(await action.mutateAsync({ kind: "shortlist", word: String(list), chosen }));
    setName("");
  };
  return (
    <span className="relative flex items-center gap-2">
      <ErrorNote error={make.error ?? action.error} />
      <Menu>
        {({ close }) => (
          <>
            <MenuButton
              ref={buttonRef}
              as={Button}
              look={ids.length ? "main" : "plain"}
              disabled={total === 0}
            >
              Shortlist {what}
            </MenuButton>
            <MenuItems
              anchor="bottom end"
              className="z-40 mt-1 w-64 border border-line bg-sheet p-1.5 shadow-lg focus:outline-none"
            >
              {lists.map((list) => (
                <MenuItem key={list.id}>
                  <button
                    type="button"
                    onClick={() => put(list.id).catch(() => undefined)}
                    className="flex w-full justify-between rounded-[3px] px-2 py-1 text-left data-focus:bg-leaf-soft"
                  >
                    {list.name} <span className="text-soft">{count(list.members)}</span>
                  </button>
                </MenuItem>
              ))}
              <form
                className="mt-1 flex gap-1 border-t border-line pt-1.5 first:mt-0 first:border-0"
                onSubmit={(event) => {
                  event.preventDefault();
                  if (!name.trim()) return;
                  close();
                  put({ name }).catch(() => undefined);
                }}
              >
                <input
                  value={name}
                  onChange={(event) => setName(event.target.value)}
                  onKeyDown={(event) => event.stopPropagation()}
                  placeholder="New shortlist"
                  aria-label="Name of a new shortlist"
                  className="min-w-0 flex-1 rounded-[3px] border border-line bg-white px-2 py-1"
                />
                <Button type="submit" look="main" disabled={!name.trim()}>
                  Make
                </Button>
              </form>
            </MenuItems>
          </>
        )}
      </Menu>
    </span>
  );
}
