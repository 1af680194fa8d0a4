import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { Download } from "../../components/Download";
import { ErrorNote } from "../../components/ErrorNote";
import PagesProgress from "../../components/PagesProgress";
import { count } from "../../lib/format";
import { author } from "../../lib/session";
import { useMakePages } from "../../queries/outreach";
import { useHandOut } from "../../queries/sharing";

const ITEM = "block w-full rounded-[3px] px-2 py-1 text-left data-focus:bg-leaf-soft";
const MAIN =
  "inline-flex items-center rounded-[3px] border border-leaf bg-leaf px-2.5 py-1 font-medium text-white hover:bg-leaf-dark";
const PLAIN =
  "inline-flex items-center rounded-[3px] border border-line bg-sheet px-2.5 py-1 font-medium hover:border-leaf";

interface Props {
  shortlist: number;
  ids: number[];
  onChange: (what: "rename" | "drop" | "dialler" | "files" | "results" | "print" | "sharing") => void;
}

/** What is done with a whole list: call it, write to it, make its owners' pages, take it along. */
export default function ListMenu({ shortlist, ids, onChange }: Props) {
  const make = useMakePages();
  const handOut = useHandOut(shortlist);
  const begin = (share: boolean) =>
    make.mutate({ filter: { shortlist: String(shortlist), state: "all" }, share, by: author() });
  return (
    <span className="ml-auto flex flex-wrap items-center gap-1.5">
      <ErrorNote error={make.error ?? handOut.error} />
      {handOut.data && (
        <output className="text-soft">
          {Object.entries(handOut.data.assigned)
            .map(([name, many]) => `${name}: ${count(many)}`)
            .join(", ") || "Nobody was waiting for a rule"}
          {handOut.data.left > 0 && `; ${count(handOut.data.left)} with nobody`}
        </output>
      )}
      {make.data && <PagesProgress run={make.data.run_id} />}
      <Link to={`/outreach/call?shortlist=${shortlist}`} className={MAIN}>
        Call
      </Link>
      <Link to={`/outreach/mailing?shortlist=${shortlist}`} className={PLAIN}>
        Write
      </Link>
      <Menu>
        <MenuButton as={Button} disabled={ids.length === 0 || make.isPending}>
          Make pages
        </MenuButton>
        <MenuItems
          anchor="bottom end"
          className="z-40 mt-1 w-72 border border-line bg-sheet p-1.5 shadow-lg focus:outline-none"
        >
          <p className="px-2 pb-1 text-soft">
            For the {count(ids.length)} on this list. Sites not looked at for 14 days are looked at again
            first.
          </p>
          <MenuItem>
            <button type="button" onClick={() => begin(false)} className={ITEM}>
              Create drafts
            </button>
          </MenuItem>
          <MenuItem>
            <button type="button" onClick={() => begin(true)} className={ITEM}>
              Make and share them
            </button>
          </MenuItem>
        </MenuItems>
      </Menu>
      <Menu>
        <MenuButton as={Button}>More</MenuButton>
        <MenuItems
          anchor="bottom end"
          className="z-40 mt-1 w-64 border border-line bg-sheet p-1.5 shadow-lg focus:outline-none"
        >
          <MenuItem>
            <Link className={ITEM} to={`/businesses?shortlist=${shortlist}&state=all`}>
              Open in the table
            </Link>
          </MenuItem>
          <MenuItem>
            <button type="button" onClick={() => onChange("print")} className={ITEM}>
              Print
            </button>
          </MenuItem>
          <MenuItem>
            <button type="button" onClick={() => onChange("dialler")} className={ITEM}>
              Call list for a dialler
            </button>
          </MenuItem>
          <MenuItem>
            <button type="button" onClick={() => onChange("files")} className={ITEM}>
              Audience, labels, visits
            </button>
          </MenuItem>
          <MenuItem>
            <button type="button" onClick={() => onChange("results")} className={ITEM}>
              Results from another tool
            </button>
          </MenuItem>
          <MenuItem>
            <Download className={ITEM} from={`/api/businesses/export/csv?shortlist=${shortlist}&state=all`}>
              The list as CSV
            </Download>
          </MenuItem>
          <MenuItem>
            <button type="button" onClick={() => handOut.mutate(author())} className={ITEM}>
              Assign by your rules
            </button>
          </MenuItem>
          <MenuItem>
            <button type="button" onClick={() => onChange("sharing")} className={ITEM}>
              Who sees this list
            </button>
          </MenuItem>
          <MenuItem>
            <button
              type="button"
              onClick={() => onChange("rename")}
              className={`${ITEM} border-t border-line`}
            >
              Name and language
            </button>
          </MenuItem>
          <MenuItem>
            <button type="button" onClick={() => onChange("drop")} className={`${ITEM} text-alarm`}>
              Delete this list
            </button>
          </MenuItem>
        </MenuItems>
      </Menu>
    </span>
  );
}
