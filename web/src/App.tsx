import { useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useEffect } from "react";
import { Navigate, NavLink, Route, Routes, useLocation } from "react-router";
import { Boundary } from "./components/Boundary";
import { Empty } from "./components/Empty";
import { Loading } from "./components/Loading";
import QueryNotes from "./components/QueryNotes";
import { onSignedOut } from "./lib/session";
import Businesses from "./pages/desk/Businesses";
import { useStatus } from "./queries/catalogue";
import { useOthersChanges } from "./queries/events";
import { letGo, useMay, useMe } from "./queries/team";

const AccountMenu = lazy(() => import("./pages/team/AccountMenu"));
const FindBox = lazy(() => import("./components/FindBox"));
const DemoMenu = lazy(() => import("./pages/demo/DemoMenu"));
const BusinessPage = lazy(() => import("./pages/desk/BusinessPage"));
const Compare = lazy(() => import("./pages/desk/Compare"));
const Call = lazy(() => import("./pages/outreach/Call"));
const CalendarPage = lazy(() => import("./pages/outreach/CalendarPage"));
const Mailing = lazy(() => import("./pages/outreach/Mailing"));
const OwnersPage = lazy(() => import("./pages/outreach/OwnersPage"));
const OwnersPages = lazy(() => import("./pages/outreach/OwnersPages"));
const Replies = lazy(() => import("./pages/outreach/Replies"));
const Letterhead = lazy(() => import("./pages/outreach/Letterhead"));
const Inbox = lazy(() => import("./pages/outreach/Inbox"));
const Mailboxes = lazy(() => import("./pages/outreach/Mailboxes"));
const Queue = lazy(() => import("./pages/outreach/Queue"));
const Sequences = lazy(() => import("./pages/outreach/Sequences"));
const Templates = lazy(() => import("./pages/outreach/Templates"));
const WhatWorks = lazy(() => import("./pages/outreach/WhatWorks"));
const Outreach = lazy(() => import("./pages/outreach/Outreach"));
const Offers = lazy(() => import("./pages/score/Offers"));
const WinProbability = lazy(() => import("./pages/score/WinProbability"));
const Insight = lazy(() => import("./pages/desk/insight/Insight"));
const Sweeps = lazy(() => import("./pages/gather/Sweeps"));
const PlanSweep = lazy(() => import("./pages/gather/PlanSweep"));
const PossibleDuplicates = lazy(() => import("./pages/match/PossibleDuplicates"));
const Directories = lazy(() => import("./pages/gather/Directories"));
const Apis = lazy(() => import("./pages/gather/Apis"));
const Files = lazy(() => import("./pages/gather/Files"));
const Relationships = lazy(() => import("./pages/match/Relationships"));
const Verifier = lazy(() => import("./pages/audit/Verifier"));
const SettingsPage = lazy(() => import("./pages/agency/SettingsPage"));
const Health = lazy(() => import("./pages/agency/Health"));
const Webhooks = lazy(() => import("./pages/agency/Webhooks"));
const TeamPage = lazy(() => import("./pages/team/TeamPage"));
const MyAccount = lazy(() => import("./pages/team/MyAccount"));
const ActivityLog = lazy(() => import("./pages/team/ActivityLog"));
const SpendingPage = lazy(() => import("./pages/team/SpendingPage"));
const BackupsPage = lazy(() => import("./pages/agency/BackupsPage"));
const MyDay = lazy(() => import("./pages/outreach/MyDay"));
const SharedView = lazy(() => import("./pages/desk/SharedView"));
const PeopleData = lazy(() => import("./pages/privacy/PeopleData"));
const ApiPage = lazy(() => import("./pages/api/ApiPage"));
const SignIn = lazy(() => import("./pages/team/SignIn"));
const Welcome = lazy(() => import("./pages/team/Welcome"));
const WebsitePage = lazy(() => import("./pages/starter/WebsitePage"));
const Proposals = lazy(() => import("./pages/outreach/Proposals"));
const SetUp = lazy(() => import("./pages/agency/SetUp"));
const WatchRun = lazy(() => import("./pages/gather/WatchRun"));

const PLACES = [
  ["/sweeps", "Sweeps"],
  ["/businesses", "Businesses"],
  ["/offers", "Offers"],
  ["/outreach", "Outreach"],
  ["/insight", "Insight"],
] as const;

function Header() {
  const status = useStatus();
  const running = status.data?.running[0];
  const mayCall = useMay("people");
  const manages = useMay("manage");
  const settings = manages ? "/settings" : "/settings/account";
  return (
    <header className="flex h-11 shrink-0 items-stretch gap-6 border-b border-line bg-sheet px-4">
      <span className="flex items-center gap-2 font-serif text-[15px] font-semibold">
        <img src="/acorn.svg" alt="" width={20} height={20} /> Open Acorn
      </span>
      <nav aria-label="Places" className="flex items-stretch gap-1">
        {PLACES.filter(([to]) => to !== "/outreach" || mayCall).map(([to, name]) => (
          <NavLink
            key={to}
            to={to}
            className={({ isActive }) =>
              `flex items-center border-b-2 px-2.5 pt-0.5 ${isActive ? "border-leaf font-semibold text-leaf-dark" : "border-transparent text-soft hover:text-ink"}`
            }
          >
            {name}
          </NavLink>
        ))}
      </nav>
      <span className="ml-auto flex items-center gap-4 text-soft">
        <Suspense fallback={<span className="w-52" />}>{mayCall && <FindBox />}</Suspense>
        {running !== undefined && (
          <NavLink to={`/sweeps/runs/${running}`} className="flex items-center gap-1.5 text-leaf-dark">
            <span className="size-2 motion-safe:animate-pulse rounded-full bg-leaf" /> a sweep is running
          </NavLink>
        )}
        {status.isError ? (
          <span className="text-alarm">not connected: is the application running?</span>
        ) : (
          <NavLink to={settings} className="hover:text-ink hover:underline">
            {status.data?.agency}
          </NavLink>
        )}
        <NavLink
          to={settings}
          className={({ isActive }) => (isActive ? "font-semibold text-leaf-dark" : "hover:text-ink")}
        >
          Settings
        </NavLink>
        <Suspense fallback={null}>
          <AccountMenu />
          {status.data?.demo && manages && <DemoMenu ownData={status.data.own_data} />}
        </Suspense>
      </span>
    </header>
  );
}

/** An installation that nobody has set up yet opens on set-up, all others on the table. */
function Start() {
  const status = useStatus();
  if (status.isPending) return null;
  return <Navigate to={status.data?.fresh ? "/setup" : "/businesses"} replace />;
}

export default function App() {
  const me = useMe();
  const cache = useQueryClient();
  const { pathname } = useLocation();
  useEffect(() => onSignedOut(() => letGo(cache)), [cache]);
  if (pathname === "/welcome")
    return (
      <Suspense fallback={null}>
        <Welcome />
      </Suspense>
    );
  if (pathname === "/shared")
    return (
      <Suspense fallback={null}>
        <SharedView />
      </Suspense>
    );
  if (me.data?.accounts && !me.data.name)
    return (
      <Suspense fallback={null}>
        <SignIn />
      </Suspense>
    );
  if (me.isPending) return null;
  return <Places />;
}

function Places() {
  useOthersChanges(Boolean(useMe().data?.name));
  return (
    <div className="flex h-full flex-col">
      <Header />
      <QueryNotes />
      <main className="min-h-0 flex-1">
        <Boundary>
          <Suspense fallback={<Loading className="p-6" />}>
            <Routes>
              <Route path="/" element={<Start />} />
              <Route path="/setup" element={<SetUp />} />
              <Route path="/settings" element={<SettingsPage />} />
              <Route path="/settings/health" element={<Health />} />
              <Route path="/settings/team" element={<TeamPage />} />
              <Route path="/settings/account" element={<MyAccount />} />
              <Route path="/settings/spending" element={<SpendingPage />} />
              <Route path="/settings/backups" element={<BackupsPage />} />
              <Route path="/settings/people" element={<PeopleData />} />
              <Route path="/settings/api" element={<ApiPage />} />
              <Route path="/settings/activity" element={<ActivityLog />} />
              <Route path="/settings/webhooks" element={<Webhooks />} />
              <Route path="/sweeps" element={<Sweeps />} />
              <Route path="/sweeps/new" element={<PlanSweep />} />
              <Route path="/sweeps/duplicates" element={<PossibleDuplicates />} />
              <Route path="/sweeps/files" element={<Files />} />
              <Route path="/sweeps/directories" element={<Directories />} />
              <Route path="/sweeps/services" element={<Apis />} />
              <Route path="/sweeps/relationships" element={<Relationships />} />
              <Route path="/sweeps/verifier" element={<Verifier />} />
              <Route path="/sweeps/runs/:id" element={<WatchRun />} />
              <Route path="/businesses" element={<Businesses />} />
              <Route path="/businesses/compare" element={<Compare />} />
              <Route path="/businesses/:id" element={<BusinessPage />} />
              <Route path="/businesses/:id/website" element={<WebsitePage />} />
              <Route path="/businesses/:id/proposals" element={<Proposals />} />
              <Route path="/insight" element={<Insight />} />
              <Route path="/offers" element={<Offers />} />
              <Route path="/offers/winning" element={<WinProbability />} />
              <Route path="/outreach" element={<Outreach />} />
              <Route path="/outreach/call" element={<Call />} />
              <Route path="/outreach/my-day" element={<MyDay />} />
              <Route path="/outreach/calendar" element={<CalendarPage />} />
              <Route path="/outreach/mailing" element={<Mailing />} />
              <Route path="/outreach/page/:id" element={<OwnersPage />} />
              <Route path="/outreach/pages" element={<OwnersPages />} />
              <Route path="/outreach/replies" element={<Replies />} />
              <Route path="/outreach/inbox" element={<Inbox />} />
              <Route path="/outreach/sequences" element={<Sequences />} />
              <Route path="/outreach/sequences/:id" element={<Sequences />} />
              <Route path="/outreach/queue" element={<Queue />} />
              <Route path="/outreach/templates" element={<Templates />} />
              <Route path="/outreach/what-works" element={<WhatWorks />} />
              <Route path="/outreach/mailboxes" element={<Mailboxes />} />
              <Route path="/outreach/letterhead" element={<Letterhead />} />
              <Route
                path="*"
                element={
                  <Empty page title="There is no such page">
                    Choose a place from the top line.
                  </Empty>
                }
              />
            </Routes>
          </Suspense>
        </Boundary>
      </main>
    </div>
  );
}
