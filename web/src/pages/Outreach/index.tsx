import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { BOX, Button, Empty, ErrorNote } from "../../components/Bits";
import { setting } from "../../lib/filter";
import { count, money, phone } from "../../lib/format";
import { useAddress } from "../../lib/useAddress";
import { PAGE, useGrid } from "../../queries/businesses";
import { useServices, useStatus } from "../../queries/catalogue";
import { useBoard, useShortlists, useUnpick } from "../../queries/shortlists";
import Board from "./Board";
import { callMe, me } from "./me";
import Work from "./Work";

export default function Outreach() {
  const [params] = useSearchParams();
  const lists = useShortlists();
  const chosen = Number(params.get("shortlist") ?? lists.data?.[0]?.id ?? 0);
  useEffect(() => {
    document.title = "Outreach – Open Acorn";
  }, []);
  if (lists.error) return <ErrorNote error={lists.error} />;
  if (lists.data?.length === 0)
    return (
      <Empty page title="No shortlist yet">
        Pick rows in{" "}
        <Link className="text-leaf-dark underline" to="/businesses">
          Businesses
        </Link>{" "}
        and put them on one.
      </Empty>
    );
  return (
    <div className="flex h-full">
      <nav
        aria-label="Shortlists"
        className="w-[220px] shrink-0 overflow-y-auto border-r border-line bg-sheet p-2.5"
      >
        <h2 className="px-1.5 text-[13px]">Shortlists</h2>
        {lists.data?.map((list) => (
          <Link
            key={list.id}
            to={`?shortlist=${list.id}`}
            aria-current={list.id === chosen ? "page" : undefined}
            className={`mt-0.5 flex justify-between rounded-[3px] px-1.5 py-1 ${list.id === chosen ? "bg-leaf-soft font-semibold text-leaf-dark" : "hover:bg-faint"}`}
          >
            {list.name} <span className="font-normal text-soft">{count(list.members)}</span>
          </Link>
        ))}
      </nav>
      {chosen > 0 && (
        <Shortlist
          key={chosen}
          shortlist={chosen}
          name={lists.data?.find((list) => list.id === chosen)?.name ?? ""}
        />
      )}
    </div>
  );
}

/** One list: its board or its rows, and the business that is being worked. */
function Shortlist({ shortlist, name }: { shortlist: number; name: string }) {
  const [params, change] = useAddress();
  const rows = params.get("view") === "rows";
  const open = Number(params.get("b") ?? 0);
  const board = useBoard(shortlist).data;
  const member = board?.members.find((item) => item.id === open);
  const [who, setWho] = useState(me());
  const show = (id: number | null) => change(setting("b", id === null ? "" : String(id)), { replace: true });
  return (
    <>
      <section aria-label={name} className="min-w-0 flex-1 overflow-y-auto px-6 py-4">
        <div className="flex items-center gap-3">
          <h1 className="text-lg">{name}</h1>
          <span className="flex gap-1">
            <Button aria-pressed={!rows} onClick={() => change(setting("view", ""))}>
              Board
            </Button>
            <Button aria-pressed={rows} onClick={() => change(setting("view", "rows"))}>
              Rows
            </Button>
          </span>
          <label className="ml-auto flex items-center gap-1.5 text-soft">
            I am
            <input
              value={who}
              onChange={(event) => {
                setWho(event.target.value);
                callMe(event.target.value);
              }}
              placeholder="your name"
              className={`w-28 ${BOX}`}
            />
          </label>
          <Link
            className="text-leaf-dark hover:underline"
            to={`/businesses?shortlist=${shortlist}&state=all`}
          >
            Open in the table
          </Link>
          <a
            className="text-leaf-dark hover:underline"
            href={`/api/businesses/export/csv?shortlist=${shortlist}&state=all`}
            download
          >
            Export as CSV
          </a>
        </div>
        {rows ? <Members shortlist={shortlist} /> : <Board shortlist={shortlist} onOpen={show} />}
      </section>
      {member && board && (
        <Work shortlist={shortlist} member={member} stages={board.stages} onClose={() => show(null)} />
      )}
    </>
  );
}

/** A list row by row. */
function Members({ shortlist }: { shortlist: number }) {
  const filter = { shortlist: String(shortlist), state: "all" };
  const grid = useGrid(filter, "-value", [0], false);
  const services = useServices().data ?? [];
  const currency = useStatus().data?.currency ?? "AUD";
  const unpick = useUnpick();
  const rows = grid.byPage.get(0)?.rows ?? [];
  const total = grid.total ?? 0;
  return (
    <>
      <ErrorNote error={unpick.error ?? grid.error} />
      {grid.total === 0 && (
        <Empty title="Nobody is on this list">Pick rows in the table and put them here.</Empty>
      )}
      {total > 0 && (
        <table className="mt-3 w-full bg-sheet">
          <thead className="text-left text-soft">
            <tr className="border-b border-line">
              {["Business", "Town", "Phone", "Best offer"].map((head) => (
                <th key={head} scope="col" className="px-2 py-1 font-normal">
                  {head}
                </th>
              ))}
              <th scope="col" className="px-2 py-1 text-right font-normal">
                Score
              </th>
              <th scope="col" className="px-2 py-1 text-right font-normal">
                Value
              </th>
              <th scope="col" className="px-2 py-1">
                <span className="sr-only">Take off</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.id} className="border-b border-faint">
                <td className="px-2 py-1">
                  <Link
                    className="font-medium hover:underline"
                    to={`/businesses?shortlist=${shortlist}&state=all&b=${row.id}`}
                  >
                    {row.name}
                  </Link>
                </td>
                <td className="px-2 py-1">{row.town}</td>
                <td className="px-2 py-1 whitespace-nowrap">{phone(row.phone)}</td>
                <td className="px-2 py-1">
                  {services.find((service) => service.id === row.offer)?.title ?? "–"}
                </td>
                <td className="px-2 py-1 text-right">{row.score ?? "–"}</td>
                <td className="px-2 py-1 text-right">{money(row.value, currency)}</td>
                <td className="px-2 py-1 text-right">
                  <Button
                    look="quiet"
                    onClick={() => unpick.mutate({ shortlist_id: shortlist, ids: [row.id] })}
                    aria-label={`take off ${row.name}`}
                  >
                    take off
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {total > PAGE && (
        <p className="mt-2 text-soft">
          The first {PAGE} of {count(total)} are shown; open the list in the table for all of them.
        </p>
      )}
    </>
  );
}
