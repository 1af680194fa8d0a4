import { LockClosedIcon } from "@heroicons/react/16/solid";
import { useState } from "react";
import { Link, NavLink, useLocation } from "react-router";
import { count } from "../../lib/format";
import { callMe, me } from "../../lib/me";
import { useTitle } from "../../lib/useTitle";
import { useInbox } from "../../queries/messages";
import { useCalls, useReplies } from "../../queries/outreach";
import { useShortlists } from "../../queries/shortlists";
import { useMe } from "../../queries/team";

const MESSAGES = [
  ["/outreach/sequences", "Sequences"],
  ["/outreach/queue", "Queue"],
  ["/outreach/templates", "Templates"],
  ["/outreach/mailboxes", "Mailboxes"],
  ["/outreach/what-works", "What works"],
] as const;
const LINE = "mt-0.5 flex justify-between rounded-[3px] px-1.5 py-1";
const look = (on: boolean) =>
  `${LINE} ${on ? "bg-leaf-soft font-semibold text-leaf-dark" : "hover:bg-faint"}`;

/** What is on the left of all of Outreach: the lists, what owners wrote, their pages, and who one is. */
export default function Nav({ chosen = 0, title }: { chosen?: number; title: string }) {
  const lists = useShortlists().data ?? [];
  const due = useCalls(0).data?.length ?? 0;
  const { pathname } = useLocation();
  const onDue = pathname === "/outreach/call" && chosen === 0;
  const left = useReplies().data?.left ?? 0;
  const unanswered = useInbox(false).data?.left ?? 0;
  const [who, setWho] = useState(me());
  const signedIn = useMe().data?.name;
  useTitle(title);
  return (
    <nav
      aria-label="Outreach"
      className="flex w-[200px] shrink-0 flex-col overflow-y-auto border-r border-line bg-sheet p-2.5"
    >
      <NavLink to="/outreach/my-day" className={({ isActive }) => look(isActive)}>
        My day
      </NavLink>
      <NavLink to="/outreach/call" aria-current={onDue ? "page" : undefined} className={look(onDue)}>
        Due today{" "}
        {due > 0 && <span className="rounded-[3px] bg-acorn px-1.5 text-xs text-white">{count(due)}</span>}
      </NavLink>
      <NavLink to="/outreach/calendar" className={({ isActive }) => look(isActive)}>
        Calendar
      </NavLink>
      <h2 className="mt-3 px-1.5 text-[13px]">Shortlists</h2>
      {lists.length === 0 && <p className="px-1.5 text-soft">None yet.</p>}
      {lists.map((list) => (
        <Link
          key={list.id}
          to={`/outreach?shortlist=${list.id}`}
          aria-current={list.id === chosen ? "page" : undefined}
          className={look(list.id === chosen)}
        >
          <span className="truncate">
            {list.name}
            {list.private && (
              <LockClosedIcon
                className="ml-1 inline size-3 text-soft"
                role="img"
                aria-label="not for everybody"
              />
            )}
          </span>
          <span className="font-normal text-soft">{count(list.members)}</span>
        </Link>
      ))}
      <h2 className="mt-4 px-1.5 text-[13px]">Messages</h2>
      <NavLink to="/outreach/inbox" className={({ isActive }) => look(isActive)}>
        Inbox{" "}
        {unanswered > 0 && (
          <span className="rounded-[3px] bg-acorn px-1.5 text-xs text-white">{count(unanswered)}</span>
        )}
      </NavLink>
      {MESSAGES.map(([to, words]) => (
        <NavLink key={to} to={to} className={({ isActive }) => look(isActive)}>
          {words}
        </NavLink>
      ))}
      <h2 className="mt-4 px-1.5 text-[13px]">Owner’s pages</h2>
      <NavLink to="/outreach/replies" className={({ isActive }) => look(isActive)}>
        Replies on pages{" "}
        {left > 0 && <span className="rounded-[3px] bg-acorn px-1.5 text-xs text-white">{count(left)}</span>}
      </NavLink>
      <NavLink to="/outreach/pages" className={({ isActive }) => look(isActive)}>
        All pages
      </NavLink>
      <NavLink to="/outreach/letterhead" className={({ isActive }) => look(isActive)}>
        Letterhead
      </NavLink>
      {!signedIn && (
        <label className="mt-auto block px-1.5 pt-4 text-soft">
          Your name
          <input
            value={who}
            onChange={(event) => {
              setWho(event.target.value);
              callMe(event.target.value);
            }}
            placeholder="your name"
            className="w-full box"
          />
        </label>
      )}
    </nav>
  );
}
