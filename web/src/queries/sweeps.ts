import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { client, type Plan, type Run, type Schemas, told } from "../api/client";

export const useSweeps = () =>
  useQuery({ queryKey: ["sweeps"], queryFn: () => told(client.GET("/api/sweeps")) });

export const useRuns = () =>
  useQuery({ queryKey: ["runs"], queryFn: () => told(client.GET("/api/runs")), refetchInterval: 3000 });

export const useEstimate = (plan: Plan) =>
  useQuery({
    queryKey: ["estimate", plan],
    queryFn: () => told(client.POST("/api/sweeps/estimate", { body: plan as Schemas["PlanRequest"] })),
    enabled: plan.trades.length > 0 && plan.sources !== undefined && plan.sources.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  });

export function useStartSweep() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (asked: { name: string; plan: Plan }) =>
      told(client.POST("/api/sweeps", { body: asked as Schemas["SweepRequest"] })),
    onSuccess: () => cache.invalidateQueries(),
  });
}

export function useRunAgain() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (sweep_id: number) =>
      told(client.POST("/api/sweeps/{sweep_id}/runs", { params: { path: { sweep_id } } })),
    onSuccess: () => cache.invalidateQueries(),
  });
}

export const useTiles = (run_id: number, live: boolean) =>
  useQuery({
    queryKey: ["tiles", run_id],
    queryFn: () => told(client.GET("/api/runs/{run_id}/tiles", { params: { path: { run_id } } })),
    refetchInterval: live ? 1000 : false,
  });

/** The run, kept up to date by server-sent events while it goes on. */
export function useRun(run_id: number) {
  const cache = useQueryClient();
  const query = useQuery({
    queryKey: ["run", run_id],
    queryFn: () => told(client.GET("/api/runs/{run_id}", { params: { path: { run_id } } })),
  });
  const running = query.data?.state === "running";
  useEffect(() => {
    if (!running) return;
    const events = new EventSource(`/api/runs/${run_id}/events`);
    events.onmessage = (message) => {
      const run = JSON.parse(message.data) as Run;
      cache.setQueryData(["run", run_id], run);
      if (run.state !== "running") {
        events.close();
        cache.invalidateQueries();
      }
    };
    return () => events.close();
  }, [running, run_id, cache]);
  return query;
}

export function useRunCommand(run_id: number) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (command: "stop" | "resume" | "end" | { again: string }) => {
      const params = { params: { path: { run_id } } };
      if (typeof command === "object")
        return told(
          client.POST("/api/runs/{run_id}/resume", {
            params: { path: { run_id }, query: { source: command.again } },
          }),
        );
      if (command === "stop") return told(client.POST("/api/runs/{run_id}/stop", params));
      if (command === "end") return told(client.POST("/api/runs/{run_id}/end", params));
      return told(client.POST("/api/runs/{run_id}/resume", params));
    },
    onSuccess: () => cache.invalidateQueries({ queryKey: ["run", run_id] }),
  });
}

export const useSample = () =>
  useMutation({
    mutationFn: (plan: Plan) =>
      told(client.POST("/api/sweeps/sample", { body: plan as Schemas["PlanRequest"] })),
  });
