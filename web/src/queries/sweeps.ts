import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { answerOf, client, type Plan, type Run, type Schemas } from "../api/client";
import { listen } from "../lib/stream";
import { A_RUN, key, refresh, useChange } from "./keys";

export const useSweeps = () =>
  useQuery({ queryKey: key("sweeps"), queryFn: () => answerOf(client.GET("/api/sweeps")) });

export const useRuns = () =>
  useQuery({
    queryKey: key("runs"),
    queryFn: () => answerOf(client.GET("/api/runs")),
    refetchInterval: 3000,
  });

export const useEstimate = (plan: Plan) =>
  useQuery({
    queryKey: key("estimate", plan),
    queryFn: () => answerOf(client.POST("/api/sweeps/estimate", { body: plan as Schemas["PlanRequest"] })),
    enabled: plan.trades.length > 0 && plan.sources !== undefined && plan.sources.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  });

/** Saves a plan, new or changed, and begins a run of it if it is to start. */
export const useSaveSweep = () =>
  useChange(
    ({ id, ...asked }: { id: number | undefined; name: string; plan: Plan; start: boolean }) => {
      const body = asked as Schemas["SweepRequest"];
      return answerOf(
        id
          ? client.PUT("/api/sweeps/{sweep_id}", { params: { path: { sweep_id: id } }, body })
          : client.POST("/api/sweeps", { body }),
      );
    },
    "runs",
    "gather",
    "status",
  );

export const useRunAgain = () =>
  useChange(
    (sweep_id: number) =>
      answerOf(client.POST("/api/sweeps/{sweep_id}/runs", { params: { path: { sweep_id } } })),
    "runs",
    "gather",
    "status",
  );

export const useTiles = (run_id: number, live: boolean) =>
  useQuery({
    queryKey: key("tiles", run_id),
    queryFn: () => answerOf(client.GET("/api/runs/{run_id}/tiles", { params: { path: { run_id } } })),
    refetchInterval: live ? 1000 : false,
  });

/** The run, kept up to date by server-sent events while it goes on. */
export function useRun(run_id: number) {
  const cache = useQueryClient();
  const query = useQuery({
    queryKey: key("run", run_id),
    queryFn: () => answerOf(client.GET("/api/runs/{run_id}", { params: { path: { run_id } } })),
  });
  const running = query.data?.state === "running";
  useEffect(() => {
    if (!running) return;
    const end = listen<Run>(`/api/runs/${run_id}/events`, (run) => {
      cache.setQueryData(key("run", run_id), run);
      if (run.state !== "running") {
        end();
        refresh(cache, [...A_RUN, "status"]);
      }
    });
    return end;
  }, [running, run_id, cache]);
  return query;
}

export const useRunCommand = (run_id: number) =>
  useChange((command: "stop" | "resume" | "end" | { again: string }) => {
    const params = { params: { path: { run_id } } };
    if (typeof command === "object")
      return answerOf(
        client.POST("/api/runs/{run_id}/resume", {
          params: { path: { run_id }, query: { source: command.again } },
        }),
      );
    if (command === "stop") return answerOf(client.POST("/api/runs/{run_id}/stop", params));
    if (command === "end") return answerOf(client.POST("/api/runs/{run_id}/end", params));
    return answerOf(client.POST("/api/runs/{run_id}/resume", params));
  }, "run");

export const useSample = () =>
  useMutation({
    mutationFn: (plan: Plan) =>
      answerOf(client.POST("/api/sweeps/sample", { body: plan as Schemas["PlanRequest"] })),
  });
