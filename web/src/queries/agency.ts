import { useMutation, useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { key, useChange } from "./keys";

export type Values = Record<string, unknown>;

export const useSettings = () =>
  useQuery({ queryKey: key("settings"), queryFn: () => answerOf(client.GET("/api/settings")) });

/** Everything that a setting can touch: money, numbers, places and sources stand on every screen. */
export const useSaveSettings = () =>
  useChange(
    (values: Values) => answerOf(client.PUT("/api/settings", { body: { values } })),
    "settings",
    "gather",
    "outreach",
  );

export const useSaveHome = () =>
  useChange(
    (body: Schemas["HomeRequest"]) => answerOf(client.PUT("/api/settings/home", { body })),
    "settings",
    "gather",
    "desk",
    "match",
    "outreach",
  );

export const useTrial = () =>
  useMutation({
    mutationFn: (body: { what: string; values?: Values; address?: string }) =>
      answerOf(client.POST("/api/settings/trials", { body: { address: "", values: {}, ...body } })),
  });

export const useHealth = () =>
  useQuery({ queryKey: key("health"), queryFn: () => answerOf(client.GET("/api/health")), staleTime: 0 });
