import { useQuery } from "@tanstack/react-query";
import { client, told } from "../api/client";

const still = { staleTime: Number.POSITIVE_INFINITY };

export const useStatus = () =>
  useQuery({ queryKey: ["status"], queryFn: () => told(client.GET("/api/status")), refetchInterval: 4000 });

export const useChecks = () =>
  useQuery({ queryKey: ["checks"], queryFn: () => told(client.GET("/api/checks")), ...still });

export const useServices = () =>
  useQuery({ queryKey: ["services"], queryFn: () => told(client.GET("/api/services")), ...still });

export const useTrades = () =>
  useQuery({ queryKey: ["trades"], queryFn: () => told(client.GET("/api/trades")), ...still });

export const usePlaces = (q: string) =>
  useQuery({
    queryKey: ["places", q],
    queryFn: () => told(client.GET("/api/places", { params: { query: { q } } })),
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
