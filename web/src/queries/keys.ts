import { type QueryClient, useMutation, useQueryClient } from "@tanstack/react-query";

/** The room of the application that each kind of answer belongs to. */
const ROOM = {
  status: "settings",
  countries: "settings",
  checks: "settings",
  map: "settings",
  settings: "settings",
  health: "settings",
  webhooks: "settings",
  me: "team",
  team: "team",
  credentials: "team",
  activityLog: "team",
  passkeys: "team",
  allowances: "team",
  spending: "team",
  colleagues: "team",
  sharing: "team",
  backups: "settings",
  viewLinks: "desk",
  sharedView: "desk",
  assignmentRules: "outreach",
  myDay: "outreach",
  peopleData: "team",
  apiDocument: "settings",
  presence: "team",
  sweeps: "gather",
  territories: "gather",
  held: "gather",
  growth: "gather",
  coverage: "gather",
  runComparison: "gather",
  estimate: "gather",
  regions: "gather",
  places: "gather",
  sources: "gather",
  trades: "gather",
  recipes: "gather",
  apis: "gather",
  imports: "gather",
  schedules: "gather",
  runs: "runs",
  run: "runs",
  tiles: "runs",
  notices: "runs",
  duplicates: "match",
  origins: "match",
  relationships: "match",
  nearby: "match",
  company: "match",
  history: "audit",
  services: "score",
  versions: "score",
  preview: "score",
  winModel: "score",
  columns: "settings",
  businesses: "desk",
  facets: "desk",
  points: "desk",
  business: "desk",
  comparison: "desk",
  find: "desk",
  angles: "desk",
  insight: "desk",
  crossTable: "desk",
  changes: "desk",
  exports: "desk",
  presets: "desk",
  shortlists: "outreach",
  board: "outreach",
  activity: "outreach",
  calls: "outreach",
  callSheet: "outreach",
  ownerPage: "outreach",
  ownerPages: "outreach",
  replies: "outreach",
  letterhead: "outreach",
  mailing: "outreach",
  languages: "settings",
  language: "outreach",
  appointments: "outreach",
  calendarFeed: "outreach",
  callColumns: "settings",
  paperParts: "settings",
  templates: "messages",
  templatePreview: "messages",
  templateFit: "messages",
  sequences: "messages",
  enrolments: "messages",
  mailboxes: "messages",
  sendingRules: "messages",
  queue: "messages",
  inbox: "messages",
  whatWorks: "messages",
  textGateway: "messages",
  website: "outreach",
  proposals: "outreach",
  audience: "outreach",
  workLists: "outreach",
} as const;

export type Noun = keyof typeof ROOM;
export type Room = (typeof ROOM)[Noun];

/** What a run changes: everything but the settings. */
export const A_RUN: Room[] = ["runs", "gather", "match", "audit", "score", "desk", "outreach"];
/** What a contact, a mark or a relationship changes. */
export const A_BUSINESS: Room[] = ["desk", "outreach", "match", "score"];

/** The key under which an answer is kept: its room, what it is, and what it was asked with. */
export const key = (noun: Noun, ...asked: unknown[]) => [ROOM[noun], noun, ...asked] as const;

/** Asks again for what a change touched: answers of one kind, or all of a room. */
export const refresh = (cache: QueryClient, touched: (Noun | Room)[]) =>
  cache.invalidateQueries({
    predicate: ({ queryKey: [room, noun] }) =>
      touched.includes(room as Room) || touched.includes(noun as Noun),
  });

/** A change that is sent to the application, and what it touches there. */
export function useChange<Asked, Answer>(
  change: (asked: Asked) => Promise<Answer>,
  ...touched: (Noun | Room)[]
) {
  const cache = useQueryClient();
  return useMutation({ mutationFn: change, onSuccess: () => refresh(cache, touched) });
}
