import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, told } from "../api/client";

export const useShortlists = () =>
  useQuery({ queryKey: ["shortlists"], queryFn: () => told(client.GET("/api/shortlists")) });

export interface Pick {
  shortlist: number | { name: string };
  ids?: number[];
  filter?: Record<string, string>;
}

/** Puts businesses on a shortlist, making the list first if only its name is given. */
export function usePick() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: async ({ shortlist, ids = [], filter }: Pick) => {
      const shortlist_id =
        typeof shortlist === "number"
          ? shortlist
          : (await told(client.POST("/api/shortlists", { body: shortlist }))).id;
      const body = { ids, filter: filter ?? null };
      const result = await told(
        client.POST("/api/shortlists/{shortlist_id}/members", { params: { path: { shortlist_id } }, body }),
      );
      return { ...result, shortlist_id };
    },
    onSuccess: () => cache.invalidateQueries(),
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
