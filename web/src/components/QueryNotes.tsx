import { useIsFetching, useQueryClient } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { Problem } from "../api/client";
import type { Noun } from "../queries/keys";
import { Button } from "./Button";
import { ErrorNote } from "./ErrorNote";

/** What a page is about: it shows by itself that this could not be loaded. */
const SHOWN_BY_THE_PAGE: Noun[] = [
  "status",
  "businesses",
  "business",
  "run",
  "estimate",
  "board",
  "comparison",
  "crossTable",
  "changes",
  "mailing",
  "website",
  "proposals",
  "audience",
  "workLists",
  "preview",
  "held",
  "facets",
  "points",
  "callSheet",
  "queue",
  "mailboxes",
  "webhooks",
  "team",
  "credentials",
  "activityLog",
  "passkeys",
  "spending",
  "sharing",
  "backups",
  "viewLinks",
  "sharedView",
  "assignmentRules",
  "myDay",
  "peopleData",
  "apiDocument",
  "presence",
  "paperParts",
  "enrolments",
  "templatePreview",
  "templateFit",
];

/** What somebody may not see is left out of the page, and is no fault of it. */
const notForThem = (error: Error | null) => error instanceof Problem && error.where === "permission";

/** Whatever else of a page is loading, or could not be loaded: shown once, under the top line, with a way to try again. */
export default function QueryNotes() {
  const cache = useQueryClient();
  const loading = useIsFetching({ predicate: (query) => query.state.data === undefined });
  const failed = useSyncExternalStore(
    (changed) => cache.getQueryCache().subscribe(changed),
    () =>
      cache
        .getQueryCache()
        .findAll({ type: "active" })
        .find(
          (query) =>
            query.state.status === "error" &&
            !SHOWN_BY_THE_PAGE.includes(query.queryKey[1] as Noun) &&
            !notForThem(query.state.error),
        ),
  );
  return (
    <>
      <div aria-hidden="true" className="relative h-0">
        {loading > 0 && (
          <div className="absolute inset-x-0 top-0 z-30 h-0.5 motion-safe:animate-pulse bg-leaf" />
        )}
      </div>
      {failed && (
        <div className="flex items-center gap-3 bg-sheet px-4 py-1">
          <span>Part of this page could not be loaded.</span>
          <ErrorNote error={failed.state.error} />
          <Button
            onClick={() =>
              cache.refetchQueries({ type: "active", predicate: ({ state }) => state.status === "error" })
            }
          >
            Try again
          </Button>
        </div>
      )}
    </>
  );
}
