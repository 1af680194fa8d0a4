import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { ChevronDownIcon } from "@heroicons/react/16/solid";
import { Link } from "react-router";
import { useMe, useSignOut } from "../../queries/team";

const ITEM = "block w-full px-3 py-1.5 text-left data-focus:bg-faint";

/** Who is signed in, with the way to their account and out. */
export default function AccountMenu() {
  const me = useMe().data;
  const signOut = useSignOut();
  if (!me?.name) return null;
  return (
    <Menu>
      <MenuButton className="flex items-center gap-0.5 text-ink hover:underline">
        {me.name} <ChevronDownIcon className="size-3.5" aria-hidden="true" />
      </MenuButton>
      <MenuItems
        anchor="bottom end"
        className="z-40 w-48 border border-line bg-sheet py-1 shadow-lg outline-none"
      >
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
