import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, type Schemas, told } from "../api/client";

const still = { staleTime: Number.POSITIVE_INFINITY };

export const useStatus = () =>
  useQuery({ queryKey: ["status"], queryFn: () => told(client.GET("/api/status")), refetchInterval: 4000 });

export const useCountries = (wanted: boolean) =>
  useQuery({
    queryKey: ["countries"],
    queryFn: () => told(client.GET("/api/countries")),
    enabled: wanted,
    ...still,
  });

export function useSetCountry() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (country: string) => told(client.PUT("/api/country", { body: { country } })),
    onSuccess: () => cache.invalidateQueries(),
  });
}

export const useChecks = () =>
  useQuery({ queryKey: ["checks"], queryFn: () => told(client.GET("/api/checks")), ...still });

export const useServices = () =>
  useQuery({ queryKey: ["services"], queryFn: () => told(client.GET("/api/services")), ...still });

export const useTrades = () =>
  useQuery({ queryKey: ["trades"], queryFn: () => told(client.GET("/api/trades")), ...still });

export function useAddTrade() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["TradeRequest"]) => told(client.POST("/api/trades", { body })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["trades"] }),
  });
}

export function useDropTrade() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (trade_id: string) =>
      told(client.DELETE("/api/trades/{trade_id}", { params: { path: { trade_id } } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["trades"] }),
  });
}

export const usePlaces = (q: string) =>
  useQuery({
    queryKey: ["places", q],
    queryFn: () => told(client.GET("/api/places", { params: { query: { q } } })),
    ...still,
  });

export const useRegions = (q: string) =>
  useQuery({
    queryKey: ["regions", q],
    queryFn: () => told(client.GET("/api/regions", { params: { query: { q } } })),
    enabled: q.length > 1,
    ...still,
  });

export const useGround = () =>
  useQuery({
    queryKey: ["map"],
    queryFn: async (): Promise<GeoJSON.FeatureCollection> => (await fetch("/api/map")).json(),
    ...still,
  });

export const useSources = () =>
  useQuery({ queryKey: ["sources"], queryFn: () => told(client.GET("/api/sources")) });
