import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { ChevronDownIcon, ExclamationTriangleIcon } from "@heroicons/react/16/solid";
import { Link } from "react-router";
import { useAllowances } from "../../queries/spending";
import { useMe, useSignOut } from "../../queries/team";

const ITEM = "block w-full px-3 py-1.5 text-left data-focus:bg-faint";

/** Who is signed in, with the way to their account and out. */
export default function AccountMenu() {
  const me = useMe().data;
  const signOut = useSignOut();
  const allowances = useAllowances(Boolean(me?.name)).data ?? [];
  if (!me?.name) return null;
  const tight = allowances.filter((one) => one.state !== "");
  return (
    <Menu>
      <MenuButton className="flex items-center gap-0.5 text-ink hover:underline">
        {tight.length > 0 && (
          <ExclamationTriangleIcon
            className={`size-3.5 ${tight.some((one) => one.state === "reached") ? "text-alarm" : "text-acorn"}`}
            role="img"
            aria-label="your allowance is nearly used up"
          />
        )}
        {me.name} <ChevronDownIcon className="size-3.5" aria-hidden="true" />
      </MenuButton>
      <MenuItems
        anchor="bottom end"
        className="z-40 w-64 border border-line bg-sheet py-1 shadow-lg outline-none"
      >
        {tight.map((one) => (
          <p key={one.what} className={`px-3 py-1 ${one.state === "reached" ? "text-alarm" : "text-acorn"}`}>
            {one.sentence}
          </p>
        ))}
        <MenuItem>
          <Link to="/settings/account" className={ITEM}>
            Your account
          </Link>
        </MenuItem>
        <MenuItem>
          <button type="button" className={ITEM} onClick={() => signOut.mutate(undefined)}>
            Sign out
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
  );
}
