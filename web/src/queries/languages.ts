import { useQuery } from "@tanstack/react-query";
import { answerOf, client } from "../api/client";
import { key, useChange } from "./keys";

/** Languages that owners can be written to in. */
export const useLanguages = () =>
  useQuery({
    queryKey: key("languages"),
    queryFn: () => answerOf(client.GET("/api/languages")),
    staleTime: Number.POSITIVE_INFINITY,
  });

/** The language that a business's owner is written to in, and what it was chosen by. */
export const useLanguage = (business_id: number) =>
  useQuery({
    queryKey: key("language", business_id),
    queryFn: () =>
      answerOf(client.GET("/api/businesses/{business_id}/language", { params: { path: { business_id } } })),
  });

export const useSetLanguage = (business_id: number) =>
  useChange(
    (language: string) =>
      answerOf(
        client.PUT("/api/businesses/{business_id}/language", {
          params: { path: { business_id } },
          body: { language },
        }),
      ),
    "outreach",
    "messages",
  );
