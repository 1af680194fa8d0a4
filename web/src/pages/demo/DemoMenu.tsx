import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { ChevronDownIcon } from "@heroicons/react/16/solid";
import { useState } from "react";
import { ErrorNote } from "../../components/ErrorNote";
import { useLeaveDemo, usePassHours } from "../../queries/demo";
import Tour from "./Tour";

const DAYS = [
  [24, "Let a day pass"],
  [168, "Let a week pass"],
] as const;
const ITEM = "block w-full px-3 py-1.5 text-left data-focus:bg-faint";

/** What can be done in the demo alone: look around by a guide, or leave it for one's own data. */
export default function DemoMenu({ ownData }: { ownData: boolean }) {
  const [touring, setTouring] = useState(false);
  const leave = useLeaveDemo();
  const pass = usePassHours();
  return (
    <>
      <Menu>
        <MenuButton className="flex items-center gap-0.5 rounded-[3px] bg-faint px-1.5 text-xs text-ink hover:bg-line">
          demo data <ChevronDownIcon className="size-3.5" aria-hidden="true" />
        </MenuButton>
        <MenuItems
          anchor="bottom end"
          className="z-40 w-72 border border-line bg-sheet py-1 shadow-lg outline-none"
        >
          <MenuItem>
            <button type="button" className={ITEM} onClick={() => setTouring(true)}>
              Take the tour
              <span className="block text-soft">Two minutes, in the order of work</span>
            </button>
          </MenuItem>
          {DAYS.map(([hours, words]) => (
            <MenuItem key={hours}>
              <button type="button" className={ITEM} onClick={() => pass.mutate(hours)}>
                {words}
                <span className="block text-soft">Messages leave at their time, and people answer</span>
              </button>
            </MenuItem>
          ))}
          <MenuItem>
            <button type="button" className={ITEM} onClick={() => leave.mutate()}>
              {ownData ? "Open my own data" : "Start over with nothing"}
              <span className="block text-soft">
                {ownData
                  ? "The demo closes and keeps its data"
                  : "Set up your own agency; the demo’s data stay apart"}
              </span>
            </button>
          </MenuItem>
        </MenuItems>
      </Menu>
      {pass.isPending && <output className="text-acorn">time is passing …</output>}
      {leave.isPending && (
        <output className="fixed inset-0 z-50 grid place-items-center bg-paper text-ink">
          Opening your own data …
        </output>
      )}
      {(leave.error ?? pass.error) && (
        <div className="fixed top-12 right-4 z-40 max-w-96 border border-line bg-sheet p-3 shadow-lg">
          <ErrorNote error={leave.error ?? pass.error} />
        </div>
      )}
      {touring && <Tour onEnd={() => setTouring(false)} />}
    </>
  );
}
