import { useMutation, useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { key, useChange } from "./keys";

export type WebsiteHost = Schemas["HostResponse"];
export type HostRequest = Schemas["HostRequest"];

const path = (business_id: number) => ({ params: { path: { business_id } } });

/** Where a website was published, and where it could be. */
export const usePublications = (business_id: number) =>
  useQuery({
    queryKey: key("website", business_id, "publications"),
    queryFn: () =>
      answerOf(client.GET("/api/businesses/{business_id}/website/publications", path(business_id))),
  });

export const usePublish = (business_id: number) =>
  useChange(
    (body: Schemas["PublishRequest"]) =>
      answerOf(client.POST("/api/businesses/{business_id}/website/publish", { ...path(business_id), body })),
    "website",
    "activity",
  );

/** The key that a server shows now; nothing is stored. */
export const useHostKey = () =>
  useMutation({
    mutationFn: (body: HostRequest) => answerOf(client.POST("/api/website-hosts/key", { body })),
  });

export const useSaveHost = () =>
  useChange((body: HostRequest) => answerOf(client.PUT("/api/website-hosts", { body })), "website");

export const useDeleteHost = () =>
  useChange(
    (number: number) =>
      answerOf(client.DELETE("/api/website-hosts/{number}", { params: { path: { number } } })),
    "website",
  );
