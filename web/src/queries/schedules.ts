import { useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { key, useChange } from "./keys";

export const useSchedules = () =>
  useQuery({ queryKey: key("schedules"), queryFn: () => answerOf(client.GET("/api/schedules")) });

export function useSetSchedule(sweep_id: number) {
  const params = { params: { path: { sweep_id } } };
  return useChange(async (body: Schemas["ScheduleRequest"] | null) => {
    if (body) await answerOf(client.PUT("/api/sweeps/{sweep_id}/schedule", { ...params, body }));
    else await client.DELETE("/api/sweeps/{sweep_id}/schedule", params);
  }, "schedules");
}

export const useNotices = () =>
  useQuery({
    queryKey: key("notices"),
    queryFn: () => answerOf(client.GET("/api/notices")),
    refetchInterval: 10_000,
  });

export const useDismissNotices = () => useChange(() => client.POST("/api/notices/seen"), "notices");
