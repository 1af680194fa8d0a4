import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, type Schemas, told } from "../api/client";

export const useShortlists = () =>
  useQuery({ queryKey: ["shortlists"], queryFn: () => told(client.GET("/api/shortlists")) });

export function useMakeShortlist() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (name: string) => told(client.POST("/api/shortlists", { body: { name } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["shortlists"] }),
  });
}

/** Gives a list another name, or (with none) forgets it. */
export function useChangeShortlist() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: ({ id, name }: { id: number; name?: string }) =>
      name === undefined
        ? told(client.DELETE("/api/shortlists/{shortlist_id}", { params: { path: { shortlist_id: id } } }))
        : told(
            client.PATCH("/api/shortlists/{shortlist_id}", {
              params: { path: { shortlist_id: id } },
              body: { name },
            }),
          ),
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

export type Member = Schemas["MemberResponse"];

/** A list by stages. */
export const useBoard = (id: number) =>
  useQuery({
    queryKey: ["board", id],
    queryFn: () =>
      told(client.GET("/api/shortlists/{shortlist_id}/board", { params: { path: { shortlist_id: id } } })),
  });

/** Changes stage, owner or follow-up day of members. */
export function useMove(shortlist_id: number) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["MoveRequest"]) =>
      told(
        client.POST("/api/shortlists/{shortlist_id}/members/move", {
          params: { path: { shortlist_id } },
          body,
        }),
      ),
    onSuccess: () => cache.invalidateQueries(),
  });
}

/** Everything done about a business. */
export const useSteps = (id: number) =>
  useQuery({
    queryKey: ["steps", id],
    queryFn: () =>
      told(client.GET("/api/businesses/{business_id}/steps", { params: { path: { business_id: id } } })),
  });

export function useAddStep(id: number) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["ActivityRequest"]) =>
      told(
        client.POST("/api/businesses/{business_id}/steps", { params: { path: { business_id: id } }, body }),
      ),
    onSuccess: () => cache.invalidateQueries(),
  });
}

export function useDropNote(business_id: number) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (step_id: number) =>
      told(
        client.DELETE("/api/businesses/{business_id}/steps/{step_id}", {
          params: { path: { business_id, step_id } },
        }),
      ),
    onSuccess: () => cache.invalidateQueries(),
  });
}
