import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { ArrowDownTrayIcon, QuestionMarkCircleIcon, XMarkIcon } from "@heroicons/react/16/solid";
import { type RefObject, useEffect, useState } from "react";
import { Button, ErrorNote } from "../../components/Bits";
import { cleared } from "../../lib/filter";
import { count } from "../../lib/format";
import { useAuditAgain } from "../../queries/audits";
import { usePick, useShortlists } from "../../queries/shortlists";

const TYPING_PAUSE_MS = 180;

interface Props {
  params: URLSearchParams;
  filter: Record<string, string>;
  sort: string;
  total: number | undefined;
  all: number | undefined;
  sentence: string | undefined;
  picked: ReadonlySet<number>;
  searchRef: RefObject<HTMLInputElement | null>;
  pickRef: RefObject<HTMLButtonElement | null>;
  onChange: (next: URLSearchParams) => void;
  onPicked: (ids: ReadonlySet<number>) => void;
  onHelp: () => void;
}

function Search({ params, searchRef, onChange }: Pick<Props, "params" | "searchRef" | "onChange">) {
  const inAddress = params.get("q") ?? "";
  const [text, setText] = useState(inAddress);
  useEffect(() => setText(inAddress), [inAddress]);
  useEffect(() => {
    if (text === inAddress) return;
    const timer = setTimeout(() => {
      const next = new URLSearchParams(params);
      if (text) next.set("q", text);
      else next.delete("q");
      onChange(next);
    }, TYPING_PAUSE_MS);
    return () => clearTimeout(timer);
  }, [text, inAddress, params, onChange]);
  return (
    <input
      ref={searchRef}
      type="search"
      value={text}
      onChange={(event) => setText(event.target.value)}
      placeholder="Name, town or site  /"
      aria-label="Search names, towns and sites"
      className="w-[190px] rounded-[3px] border border-line bg-sheet px-2 py-1 placeholder:text-soft"
    />
  );
}

export default function Toolbar(props: Props) {
  const {
    params,
    filter,
    sort,
    total,
    all,
    sentence,
    picked,
    searchRef,
    pickRef,
    onChange,
    onPicked,
    onHelp,
  } = props;
  const filtered = Object.keys(filter).length > 0;
  const ids = [...picked];
  const again = useAuditAgain();
  const address = new URLSearchParams(
    ids.length ? { ids: ids.join(","), state: "all", sort } : { ...filter, sort },
  );
  return (
    <div className="border-b border-line bg-paper px-3 py-2">
      <div className="flex items-center gap-2">
        <Search params={params} searchRef={searchRef} onChange={onChange} />
        <span className="ml-auto flex items-center gap-1.5">
          {ids.length > 0 && (
            <>
              <Button look="quiet" onClick={() => onPicked(new Set())}>
                let go of {count(ids.length)}
              </Button>
              <Button disabled={again.isPending} onClick={() => again.mutate({ ids })}>
                {again.isPending ? "Auditing …" : "Audit again"}
              </Button>
            </>
          )}
          <ShortlistMenu
            buttonRef={pickRef}
            ids={ids}
            filter={filter}
            total={total ?? 0}
            onDone={() => onPicked(new Set())}
          />
          <a
            href={`/api/businesses/export/csv?${address}`}
            download
            className="inline-flex items-center gap-1.5 rounded-[3px] border border-line bg-sheet px-2.5 py-1 font-medium whitespace-nowrap hover:border-leaf"
          >
            <ArrowDownTrayIcon className="size-3.5" /> Export{" "}
            {ids.length ? `${count(ids.length)} picked` : count(total ?? 0)} as CSV
          </a>
          <button
            type="button"
            onClick={onHelp}
            aria-label="Keys and marks"
            className="p-1 text-soft hover:text-ink"
          >
            <QuestionMarkCircleIcon className="size-4" />
          </button>
        </span>
      </div>
      <p aria-live="polite" className="mt-1.5 flex items-baseline gap-2 font-serif text-[14px]">
        <span>
          {sentence ?? "…"}:{" "}
          <strong data-testid="total" className="font-semibold">
            {total === undefined ? "…" : count(total)}
          </strong>{" "}
          <span className="text-soft">of {all === undefined ? "…" : count(all)}</span>
        </span>
        {filtered && (
          <button
            type="button"
            onClick={() => onChange(cleared(params))}
            className="flex items-center font-sans text-leaf-dark hover:underline"
          >
            <XMarkIcon className="size-3.5" /> clear
          </button>
        )}
      </p>
    </div>
  );
}

interface MenuProps {
  buttonRef: RefObject<HTMLButtonElement | null>;
  ids: number[];
  filter: Record<string, string>;
  total: number;
  onDone: () => void;
}

function ShortlistMenu({ buttonRef, ids, filter, total, onDone }: MenuProps) {
  const lists = useShortlists().data ?? [];
  const pick = usePick();
  const [name, setName] = useState("");
  const [said, setSaid] = useState("");
  const what = ids.length ? `${count(ids.length)} picked` : `all ${count(total)} that match`;
  const put = async (shortlist: number | { name: string }) => {
    const chosen = ids.length ? { ids } : { filter };
    const result = await pick.mutateAsync({ shortlist, ...chosen }).catch(() => null);
    if (!result) return;
    setName("");
    setSaid(
      `${count(result.added)} added${result.asked > result.added ? `, ${count(result.asked - result.added)} were on it` : ""}`,
    );
    setTimeout(() => setSaid(""), 4000);
    onDone();
  };
  return (
    <span className="relative flex items-center gap-2">
      {said && <output className="text-leaf-dark">{said}</output>}
      {pick.error && <ErrorNote error={pick.error} />}
      <Menu>
        <MenuButton ref={buttonRef} as={Button} look={ids.length ? "main" : "plain"} disabled={total === 0}>
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
                onClick={() => put(list.id)}
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
              if (name.trim()) put({ name });
            }}
          >
            <input
              value={name}
              onChange={(event) => setName(event.target.value)}
              onKeyDown={(event) => event.stopPropagation()}
              placeholder="A new shortlist"
              aria-label="Name of a new shortlist"
              className="min-w-0 flex-1 rounded-[3px] border border-line bg-white px-2 py-1"
            />
            <Button type="submit" look="main" disabled={!name.trim()}>
              Make
            </Button>
          </form>
        </MenuItems>
      </Menu>
    </span>
  );
}
