import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { count } from "../../lib/format";
import { type Again, useAuditAgain } from "../../queries/audits";

const WAYS: [string, string, Partial<Again>][] = [
  ["Standard", "the home page and the pages that matter", {}],
  ["With a browser", "screenshots, tags that fire, measured load time", { rendered: true }],
  ["The whole site", "every page up to the limit in the settings", { whole: true }],
];

interface Props {
  ids: number[];
  filter: Record<string, string>;
  total: number;
}

/** Audits what is picked anew, or of all that match those whose audit has grown old. */
export default function AuditMenu({ ids, filter, total }: Props) {
  const again = useAuditAgain();
  const [days, setDays] = useState("30");
  const old = ids.length === 0;
  const valid = !old || (/^\d{1,4}$/.test(days) && Number(days) <= 3650);
  const what = old
    ? `of ${count(total)} that match, those audited over ${days || "…"} days ago`
    : `${count(ids.length)} selected`;
  const begin = (way: Partial<Again>) =>
    again.mutate(old ? { filter, older_days: Number(days), ...way } : { ids, ...way });
  return (
    <>
      <ErrorNote error={again.error} />
      <Menu>
        <MenuButton as={Button} disabled={again.isPending || total === 0}>
          {again.isPending ? "Auditing …" : "Audit again"}
        </MenuButton>
        <MenuItems
          anchor="bottom end"
          className="z-40 mt-1 w-72 border border-line bg-sheet p-1.5 shadow-lg focus:outline-none"
        >
          <p className="px-2 pb-1 text-soft">Audit again {what}:</p>
          {WAYS.map(([title, hint, way]) => (
            <MenuItem key={title} disabled={!valid}>
              <button
                type="button"
                onClick={() => begin(way)}
                className="block w-full rounded-[3px] px-2 py-1 text-left data-disabled:opacity-50 data-focus:bg-leaf-soft"
              >
                {title} <span className="block text-xs text-soft">{hint}</span>
              </button>
            </MenuItem>
          ))}
          {old && (
            <label className="mt-1 flex items-baseline gap-1.5 border-t border-line px-2 pt-1.5">
              Older than
              <input
                value={days}
                inputMode="numeric"
                onChange={(event) => setDays(event.target.value)}
                onKeyDown={(event) => event.stopPropagation()}
                aria-label="Days since the last audit"
                aria-invalid={!valid}
                className="w-14 rounded-[3px] border border-line bg-white px-1.5 py-0.5 text-right aria-invalid:border-alarm"
              />
              days
            </label>
          )}
        </MenuItems>
      </Menu>
    </>
  );
}
