import { useQuery } from "@tanstack/react-query";
import { client, type Schemas, told } from "../api/client";
import { setHere } from "../lib/format";
import { A_BUSINESS, key, useChange } from "./keys";

const still = { staleTime: Number.POSITIVE_INFINITY };

export const useStatus = () =>
  useQuery({
    queryKey: key("status"),
    queryFn: async () => {
      const status = await told(client.GET("/api/status"));
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
    queryFn: () => told(client.GET("/api/countries")),
    enabled: wanted,
    ...still,
  });

export const useSetCountry = () =>
  useChange(
    (country: string) => told(client.PUT("/api/country", { body: { country } })),
    ...A_BUSINESS,
    "settings",
  );

export const useChecks = () =>
  useQuery({ queryKey: key("checks"), queryFn: () => told(client.GET("/api/checks")), ...still });

export const useServices = () =>
  useQuery({ queryKey: key("services"), queryFn: () => told(client.GET("/api/services")), ...still });

export const useTrades = () =>
  useQuery({ queryKey: key("trades"), queryFn: () => told(client.GET("/api/trades")), ...still });

export const useAddTrade = () =>
  useChange((body: Schemas["TradeRequest"]) => told(client.POST("/api/trades", { body })), "trades");

export const useDropTrade = () =>
  useChange(
    (trade_id: string) => told(client.DELETE("/api/trades/{trade_id}", { params: { path: { trade_id } } })),
    "trades",
  );

export const usePlaces = (q: string) =>
  useQuery({
    queryKey: key("places", q),
    queryFn: () => told(client.GET("/api/places", { params: { query: { q } } })),
    ...still,
  });

export const useRegions = (q: string) =>
  useQuery({
    queryKey: key("regions", q),
    queryFn: () => told(client.GET("/api/regions", { params: { query: { q } } })),
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
  useQuery({ queryKey: key("sources"), queryFn: () => told(client.GET("/api/sources")) });
