import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answerOf, client } from "../api/client";
import { A_RUN, key, refresh } from "./keys";

export const useHistory = (id: number, audited_at: string | null) =>
  useQuery({
    queryKey: key("history", id, audited_at),
    queryFn: () =>
      answerOf(
        client.GET("/api/businesses/{business_id}/history", { params: { path: { business_id: id } } }),
      ),
  });

export interface Again {
  ids?: number[];
  filter?: Record<string, string>;
  older_days?: number;
  rendered?: boolean;
  whole?: boolean;
  /** Also those marked as client or in conversation. */
  held_back?: boolean;
}

/** Begins a run that audits businesses anew; the open business is asked for until its audit is in. */
export function useAuditAgain() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: ({
      ids = [],
      filter,
      older_days,
      rendered = false,
      whole = false,
      held_back = false,
    }: Again) =>
      answerOf(
        client.POST("/api/audits", {
          body: { ids, filter: filter ?? null, rendered, whole, held_back, older_days: older_days ?? null },
        }),
      ),
    onSuccess: async ({ run_id }) => {
      await refresh(cache, ["runs", "status"]);
      for (let tries = 0; tries < 120; tries++) {
        const run = await answerOf(client.GET("/api/runs/{run_id}", { params: { path: { run_id } } }));
        if (run.state !== "running") break;
        await new Promise((wake) => setTimeout(wake, 500));
      }
      await refresh(cache, [...A_RUN, "status"]);
    },
  });
}
