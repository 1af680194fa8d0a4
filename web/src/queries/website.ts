import { useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { key, useChange } from "./keys";

export type Website = Schemas["WebsiteResponse"];
export type Site = Schemas["SiteResponse"];
export type SiteSection = Site["sections"][number];
export type Paragraph = SiteSection["paragraphs"][number];

const path = (business_id: number) => ({ params: { path: { business_id } } });

/** The website begun for a business, and the themes that it can have. */
export const useWebsite = (business_id: number) =>
  useQuery({
    queryKey: key("website", business_id),
    queryFn: () => answerOf(client.GET("/api/businesses/{business_id}/website", path(business_id))),
  });

export const useBeginWebsite = (business_id: number) =>
  useChange(
    (by: string) =>
      answerOf(client.POST("/api/businesses/{business_id}/website", { ...path(business_id), body: { by } })),
    "website",
  );

export const useChangeWebsite = (business_id: number) =>
  useChange(
    (body: Schemas["SiteRequest"]) =>
      answerOf(client.PUT("/api/businesses/{business_id}/website", { ...path(business_id), body })),
    "website",
  );

export const useRestoreWebsite = (business_id: number) =>
  useChange(
    (body: Schemas["RestoreRequest"]) =>
      answerOf(client.POST("/api/businesses/{business_id}/website/restore", { ...path(business_id), body })),
    "website",
  );

/** What the writing helper makes of a paragraph, judged; nothing is saved by it. */
export const useRewordCopy = (business_id: number) =>
  useChange(({ text, tone }: Schemas["RewordRequest"]) =>
    answerOf(
      client.POST("/api/businesses/{business_id}/website/reword", {
        ...path(business_id),
        body: { text, tone },
      }),
    ),
  );

/** Shows the website at its address, or closes that. */
export const useShareWebsite = (business_id: number) =>
  useChange(
    ({ open, by }: { open: boolean; by: string }) =>
      answerOf(
        client.POST(
          open
            ? "/api/businesses/{business_id}/website/share"
            : "/api/businesses/{business_id}/website/withdraw",
          { ...path(business_id), body: { by } },
        ),
      ),
    "website",
    "activity",
  );
