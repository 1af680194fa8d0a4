import { useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { key, useChange } from "./keys";

export type SitePicture = Schemas["StoredPicture"];

const path = (business_id: number) => ({ params: { path: { business_id } } });

/** Pictures taken over from the old website, and those that could be. */
export const useSitePictures = (business_id: number) =>
  useQuery({
    queryKey: key("website", business_id, "pictures"),
    queryFn: () => answerOf(client.GET("/api/businesses/{business_id}/website/pictures", path(business_id))),
  });

/** Fetches one picture from the old website. */
export const useFetchPicture = (business_id: number) =>
  useChange(
    (url: string) =>
      answerOf(
        client.POST("/api/businesses/{business_id}/website/pictures", {
          ...path(business_id),
          body: { url },
        }),
      ),
    "website",
  );

/** Notes that the owner agreed to the use of the pictures, or not. */
export const useConsent = (business_id: number) =>
  useChange(
    (body: Schemas["ConsentRequest"]) =>
      answerOf(client.PUT("/api/businesses/{business_id}/website/consent", { ...path(business_id), body })),
    "website",
  );
