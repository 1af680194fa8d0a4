import { useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { setHere } from "../lib/format";
import { key, useChange } from "./keys";

const still = { staleTime: Number.POSITIVE_INFINITY };

export const useStatus = () =>
  useQuery({
    queryKey: key("status"),
    queryFn: async () => {
      const status = await answerOf(client.GET("/api/status"));
      setHere(status.locale, status.country);
      return status;
    },
    refetchInterval: 4000,
  });

/** The currency that the agency's fees are in (ISO 4217), "" until it is known. */
export const useCurrency = () => useStatus().data?.currency ?? "";

export const useCountries = (wanted: boolean) =>
  useQuery({
    queryKey: key("countries"),
    queryFn: () => answerOf(client.GET("/api/countries")),
    enabled: wanted,
    ...still,
  });

export const useChecks = () =>
  useQuery({ queryKey: key("checks"), queryFn: () => answerOf(client.GET("/api/checks")), ...still });

export const useServices = () =>
  useQuery({ queryKey: key("services"), queryFn: () => answerOf(client.GET("/api/services")), ...still });

export const useTrades = () =>
  useQuery({ queryKey: key("trades"), queryFn: () => answerOf(client.GET("/api/trades")), ...still });

export const useAddTrade = () =>
  useChange((body: Schemas["TradeRequest"]) => answerOf(client.POST("/api/trades", { body })), "trades");

export const useDropTrade = () =>
  useChange(
    (trade_id: string) =>
      answerOf(client.DELETE("/api/trades/{trade_id}", { params: { path: { trade_id } } })),
    "trades",
  );

export const usePlaces = (q: string, country = "") =>
  useQuery({
    queryKey: key("places", q, country),
    queryFn: () => answerOf(client.GET("/api/places", { params: { query: { q, country } } })),
    ...still,
  });

export const useRegions = (q: string) =>
  useQuery({
    queryKey: key("regions", q),
    queryFn: () => answerOf(client.GET("/api/regions", { params: { query: { q } } })),
    enabled: q.length > 1,
    ...still,
  });

export const useGround = () =>
  useQuery({
    queryKey: key("map"),
    queryFn: async (): Promise<GeoJSON.FeatureCollection> => (await fetch("/api/map")).json(),
    ...still,
  });

export const useSources = () =>
  useQuery({ queryKey: key("sources"), queryFn: () => answerOf(client.GET("/api/sources")) });
