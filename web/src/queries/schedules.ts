import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, type Schemas, told } from "../api/client";

export const useSchedules = () =>
  useQuery({ queryKey: ["schedules"], queryFn: () => told(client.GET("/api/schedules")) });

export function useSetSchedule(sweep_id: number) {
  const cache = useQueryClient();
  const params = { params: { path: { sweep_id } } };
  return useMutation({
    mutationFn: async (body: Schemas["ScheduleRequest"] | null) => {
      if (body) await told(client.PUT("/api/sweeps/{sweep_id}/schedule", { ...params, body }));
      else await client.DELETE("/api/sweeps/{sweep_id}/schedule", params);
    },
    onSuccess: () => cache.invalidateQueries({ queryKey: ["schedules"] }),
  });
}

export const useNotices = () =>
  useQuery({
    queryKey: ["notices"],
    queryFn: () => told(client.GET("/api/notices")),
    refetchInterval: 10_000,
  });

export function usePutAway() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: () => client.POST("/api/notices/seen"),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["notices"] }),
  });
}
