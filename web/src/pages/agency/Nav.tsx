import { Link, NavLink } from "react-router";
import { useTitle } from "../../lib/useTitle";
import { useMay, useMe } from "../../queries/team";
import type { SectionInfo } from "./Section";

const LINE = "mt-0.5 block rounded-[3px] px-1.5 py-1 hover:bg-faint";

const PAGES = [
  ["/settings", "Settings"],
  ["/settings/team", "Team"],
  ["/settings/spending", "Spending"],
  ["/settings/activity", "Activity log"],
  ["/settings/people", "People’s data"],
  ["/settings/account", "Your account"],
  ["/settings/health", "Health"],
  ["/settings/backups", "Backups and files"],
  ["/settings/webhooks", "Webhooks"],
  ["/settings/api", "API"],
  ["/setup", "Set-up"],
  ["/outreach/letterhead", "Letterhead"],
] as const;

/** What is on the left of Settings: its sections, health, set-up. */
export default function Nav({ title, sections = [] }: { title: string; sections?: SectionInfo[] }) {
  useTitle(title);
  const manages = useMay("manage");
  const accounts = useMe().data?.accounts;
  const pages = PAGES.filter(([to]) =>
    to === "/settings/account" ? accounts : to === "/settings/api" || manages,
  );
  return (
    <nav
      aria-label="Settings"
      className="flex w-[214px] shrink-0 flex-col overflow-y-auto border-r border-line bg-sheet p-2.5"
    >
      {pages.map(([to, name]) => (
        <NavLink
          key={to}
          to={to}
          end
          className={({ isActive }) =>
            `mt-0.5 block rounded-[3px] px-1.5 py-1 ${isActive ? "bg-leaf-soft font-semibold text-leaf-dark" : "hover:bg-faint"}`
          }
        >
          {name}
        </NavLink>
      ))}
      {sections.length > 0 && <h2 className="mt-4 px-1.5 text-[13px]">Sections</h2>}
      {sections.map((section) => (
        <Link key={section.id} to={`/settings#${section.id}`} className={LINE}>
          {section.title}
        </Link>
      ))}
    </nav>
  );
}
