import { useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { A_BUSINESS, key, useChange } from "./keys";

export const useShortlists = () =>
  useQuery({ queryKey: key("shortlists"), queryFn: () => answerOf(client.GET("/api/shortlists")) });

export const useMakeShortlist = () =>
  useChange((name: string) => answerOf(client.POST("/api/shortlists", { body: { name } })), "shortlists");

/** Gives a list another name and language, or (with none) forgets it. */
export const useChangeShortlist = () =>
  useChange(
    ({ id, name, language }: { id: number; name?: string; language?: string }) =>
      name === undefined
        ? answerOf(
            client.DELETE("/api/shortlists/{shortlist_id}", { params: { path: { shortlist_id: id } } }),
          )
        : answerOf(
            client.PATCH("/api/shortlists/{shortlist_id}", {
              params: { path: { shortlist_id: id } },
              body: { name, language },
            }),
          ),
    "outreach",
    "desk",
  );

export const useRemoveMembers = () =>
  useChange(
    ({ shortlist_id, ids }: { shortlist_id: number; ids: number[] }) =>
      answerOf(
        client.POST("/api/shortlists/{shortlist_id}/members/remove", {
          params: { path: { shortlist_id } },
          body: { ids, filter: null },
        }),
      ),
    "outreach",
    "desk",
  );

export type Member = Schemas["Member"];

/** A list by stages. */
export const useBoard = (id: number) =>
  useQuery({
    queryKey: key("board", id),
    queryFn: () =>
      answerOf(
        client.GET("/api/shortlists/{shortlist_id}/board", { params: { path: { shortlist_id: id } } }),
      ),
  });

/** Changes stage, owner or follow-up day of members. */
export const useMove = (shortlist_id: number) =>
  useChange(
    (body: Schemas["MoveRequest"]) =>
      answerOf(
        client.POST("/api/shortlists/{shortlist_id}/members/move", {
          params: { path: { shortlist_id } },
          body,
        }),
      ),
    ...A_BUSINESS,
  );

/** Everything done about a business. */
export const useActivity = (id: number) =>
  useQuery({
    queryKey: key("activity", id),
    queryFn: () =>
      answerOf(
        client.GET("/api/businesses/{business_id}/activities", { params: { path: { business_id: id } } }),
      ),
  });

export const useAddActivity = (id: number) =>
  useChange(
    (body: Schemas["ActivityRequest"]) =>
      answerOf(
        client.POST("/api/businesses/{business_id}/activities", {
          params: { path: { business_id: id } },
          body,
        }),
      ),
    "outreach",
    "desk",
  );

export const useDropNote = (business_id: number) =>
  useChange(
    (step_id: number) =>
      answerOf(
        client.DELETE("/api/businesses/{business_id}/activities/{step_id}", {
          params: { path: { business_id, step_id } },
        }),
      ),
    "outreach",
    "desk",
  );
