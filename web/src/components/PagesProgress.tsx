import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import { count } from "../lib/format";
import { refresh } from "../queries/keys";
import { useRun } from "../queries/sweeps";

/** How far the making of owners' pages is; `onDone` once it has ended. */
export default function PagesProgress({ run, onDone }: { run: number; onDone?: () => void }) {
  const query = useRun(run);
  const cache = useQueryClient();
  const state = query.data?.state;
  useEffect(() => {
    if (!state || state === "running") return;
    refresh(cache, ["outreach", "desk", "status"]);
    onDone?.();
  }, [state, cache, onDone]);
  if (!query.data) return null;
  const { audits_left, pages_done, pages_left } = query.data.progress;
  const all = pages_done + pages_left;
  const words =
    state === "running"
      ? audits_left > 0
        ? `looking at ${count(audits_left)} ${audits_left === 1 ? "site" : "sites"} again …`
        : `${count(pages_done)} of ${count(all)} pages made …`
      : `${count(pages_done)} ${pages_done === 1 ? "page" : "pages"} made${state === "done" ? "" : `, ${state}`}`;
  return (
    <output className="text-soft">
      {words}{" "}
      <Link
        to={state === "running" ? `/sweeps/runs/${run}` : "/outreach/pages"}
        className="text-leaf-dark underline"
      >
        {state === "running" ? "watch or stop" : "see them"}
      </Link>
    </output>
  );
}
