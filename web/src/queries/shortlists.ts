import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, told } from "../api/client";

export const useShortlists = () =>
  useQuery({ queryKey: ["shortlists"], queryFn: () => told(client.GET("/api/shortlists")) });

export function useMakeShortlist() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (name: string) => told(client.POST("/api/shortlists", { body: { name } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["shortlists"] }),
  });
}

export function useUnpick() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: ({ shortlist_id, ids }: { shortlist_id: number; ids: number[] }) =>
      told(
        client.POST("/api/shortlists/{shortlist_id}/members/remove", {
          params: { path: { shortlist_id } },
          body: { ids, filter: null },
        }),
      ),
    onSuccess: () => cache.invalidateQueries(),
  });
}
