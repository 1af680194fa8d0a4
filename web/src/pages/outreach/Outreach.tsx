import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { setting } from "../../lib/filter";
import { useAddress } from "../../lib/useAddress";
import { useBoard, useShortlists } from "../../queries/shortlists";
import Sharing from "../team/Sharing";
import Board from "./Board";
import ChangeList from "./ChangeList";
import Dialler from "./Dialler";
import ListFiles from "./ListFiles";
import ListMenu from "./ListMenu";
import Members from "./Members";
import Nav from "./Nav";
import PrintList from "./PrintList";
import ResultsFile from "./ResultsFile";
import Work from "./Work";

export default function Outreach() {
  const [params] = useSearchParams();
  const lists = useShortlists();
  const chosen = Number(params.get("shortlist") ?? lists.data?.[0]?.id ?? 0);
  const list = lists.data?.find((item) => item.id === chosen);
  return (
    <div className="flex h-full">
      <Nav chosen={chosen} title="Outreach" />
      {lists.error && <ErrorNote error={lists.error} />}
      {lists.data?.length === 0 && (
        <Empty page title="No shortlist yet">
          Pick rows in{" "}
          <Link className="text-leaf-dark underline" to="/businesses">
            Businesses
          </Link>{" "}
          and put them on one.
        </Empty>
      )}
      {list && <Shortlist key={chosen} shortlist={chosen} name={list.name} language={list.language} />}
    </div>
  );
}

/** One list: its board or its rows, and the business that is being worked. */
function Shortlist({ shortlist, name, language }: { shortlist: number; name: string; language: string }) {
  const [params, change] = useAddress();
  const [changing, setChanging] = useState<
    "rename" | "drop" | "dialler" | "files" | "results" | "print" | "sharing" | null
  >(null);
  const rows = params.get("view") === "rows";
  const open = Number(params.get("b") ?? 0);
  const board = useBoard(shortlist).data;
  const member = board?.members.find((item) => item.id === open);
  const show = (id: number | null) => change(setting("b", id === null ? "" : String(id)), { replace: true });
  return (
    <>
      <section aria-label={name} className="min-w-0 flex-1 overflow-y-auto px-5 py-4">
        <div className="flex flex-wrap items-center gap-2">
          <h1 className="text-lg">{name}</h1>
          <span className="flex gap-1">
            <Button aria-pressed={!rows} onClick={() => change(setting("view", ""))}>
              Board
            </Button>
            <Button aria-pressed={rows} onClick={() => change(setting("view", "rows"))}>
              Rows
            </Button>
          </span>
          <ListMenu
            shortlist={shortlist}
            ids={board?.members.map((item) => item.id) ?? []}
            onChange={setChanging}
          />
        </div>
        {changing === "dialler" && <Dialler shortlist={shortlist} onClose={() => setChanging(null)} />}
        {changing === "sharing" && (
          <Sharing kind="shortlists" id={shortlist} onClose={() => setChanging(null)} />
        )}
        {changing === "files" && <ListFiles shortlist={shortlist} onClose={() => setChanging(null)} />}
        {changing === "print" && <PrintList shortlist={shortlist} onClose={() => setChanging(null)} />}
        {changing === "results" && (
          <section aria-label="Results" className="mt-3 flex border border-line bg-sheet px-3 py-2">
            <div className="w-[460px]">
              <ResultsFile />
            </div>
            <Button look="quiet" className="ml-auto self-start" onClick={() => setChanging(null)}>
              Close
            </Button>
          </section>
        )}
        {(changing === "rename" || changing === "drop") && (
          <ChangeList
            shortlist={shortlist}
            name={name}
            language={language}
            what={changing}
            onClose={() => setChanging(null)}
          />
        )}
        {rows ? <Members shortlist={shortlist} /> : <Board shortlist={shortlist} onOpen={show} />}
      </section>
      {member && board && (
        <Work
          key={member.id}
          shortlist={shortlist}
          member={member}
          stages={board.stages}
          onClose={() => show(null)}
        />
      )}
    </>
  );
}
