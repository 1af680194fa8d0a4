import { useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { key, useChange } from "./keys";

export type SharedKind = "shortlists" | "territories";

/** Everybody who can sign in; nobody where there are no accounts. */
export const useColleagues = () =>
  useQuery({ queryKey: key("colleagues"), queryFn: () => answerOf(client.GET("/api/colleagues")) });

export const useSharing = (kind: SharedKind, id: number) =>
  useQuery({
    queryKey: key("sharing", kind, id),
    queryFn: () =>
      kind === "shortlists"
        ? answerOf(
            client.GET("/api/shortlists/{shortlist_id}/sharing", { params: { path: { shortlist_id: id } } }),
          )
        : answerOf(
            client.GET("/api/territories/{territory_id}/sharing", {
              params: { path: { territory_id: id } },
            }),
          ),
  });

/** Says who sees a list or a territory. */
export const useShare = (kind: SharedKind, id: number) =>
  useChange(
    (body: Schemas["SharingRequest"]) =>
      kind === "shortlists"
        ? answerOf(
            client.PUT("/api/shortlists/{shortlist_id}/sharing", {
              params: { path: { shortlist_id: id } },
              body,
            }),
          )
        : answerOf(
            client.PUT("/api/territories/{territory_id}/sharing", {
              params: { path: { territory_id: id } },
              body,
            }),
          ),
    "sharing",
    "shortlists",
    "territories",
  );

export type AssignmentRule = Schemas["AssignmentRuleRequest"];

export const useAssignmentRules = () =>
  useQuery({
    queryKey: key("assignmentRules"),
    queryFn: () => answerOf(client.GET("/api/assignment-rules")),
  });

export const useSaveAssignmentRules = () =>
  useChange(
    (rules: AssignmentRule[]) => answerOf(client.PUT("/api/assignment-rules", { body: { rules } })),
    "assignmentRules",
  );

/** Gives members of a list whom nobody has to people, by the rules. */
export const useHandOut = (shortlist_id: number) =>
  useChange(
    (by: string) =>
      answerOf(
        client.POST("/api/shortlists/{shortlist_id}/assign", {
          params: { path: { shortlist_id }, query: { by } },
        }),
      ),
    "outreach",
    "desk",
  );

/** What waits for somebody today. name: whose day, where nobody signs in. */
export const useMyDay = (name: string) =>
  useQuery({
    queryKey: key("myDay", name),
    queryFn: () => answerOf(client.GET("/api/my-day", { params: { query: { name } } })),
  });

export const useViewLinks = (asked: boolean) =>
  useQuery({
    queryKey: key("viewLinks"),
    queryFn: () => answerOf(client.GET("/api/view-links")),
    enabled: asked,
  });

export const useMakeViewLink = () =>
  useChange(
    (body: Schemas["ViewLinkRequest"]) => answerOf(client.POST("/api/view-links", { body })),
    "viewLinks",
  );

export const useEndViewLink = () =>
  useChange(
    (number: number) => answerOf(client.DELETE("/api/view-links/{number}", { params: { path: { number } } })),
    "viewLinks",
  );

/** A page of a view that was shared by a link. */
export const useSharedView = (shown: string, offset: number) =>
  useQuery({
    queryKey: key("sharedView", shown, offset),
    queryFn: () => answerOf(client.POST("/api/shared-view", { body: { key: shown, offset } })),
    retry: false,
  });
