import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas, type ServiceAsked } from "../api/client";
import { A_BUSINESS, key, useChange } from "./keys";

export type Chosen =
  | { ids: number[]; filter?: undefined }
  | { filter: Record<string, string>; ids?: undefined };

export const useAngles = (live: boolean) =>
  useQuery({
    queryKey: key("angles"),
    queryFn: () => answerOf(client.GET("/api/angles")),
    refetchInterval: live ? 5000 : false,
  });

export const useAddAngle = () =>
  useChange((body: Schemas["AngleRequest"]) => answerOf(client.POST("/api/angles", { body })), "angles");

export const useDropAngle = () =>
  useChange(
    (number: number) => answerOf(client.DELETE("/api/angles/own/{number}", { params: { path: { number } } })),
    "angles",
  );

/** Does something to what is chosen; the answer's id undoes it. */
export const useAction = () =>
  useChange(
    ({ kind, word = "", chosen }: { kind: string; word?: string; chosen: Chosen }) =>
      answerOf(
        client.POST("/api/actions", {
          body: { kind, word, ids: chosen.ids ?? [], filter: chosen.filter ?? null },
        }),
      ),
    ...A_BUSINESS,
  );

/** The chance of winning, with the curve `of` one service. */
export const useWinModel = (of: string) =>
  useQuery({
    queryKey: key("winModel", of),
    queryFn: () => answerOf(client.GET("/api/win-model", { params: { query: { service: of } } })),
    placeholderData: keepPreviousData,
  });

/** Lets all values go by the guess or by what was learnt. */
export const useSelectModel = () =>
  useChange(
    (goesBy: "prior" | "learnt") => answerOf(client.PUT("/api/win-model", { body: { goes_by: goesBy } })),
    "score",
    "desk",
    "outreach",
  );

export const useUndo = () =>
  useChange(
    (number: number) => answerOf(client.POST("/api/actions/{number}/undo", { params: { path: { number } } })),
    ...A_BUSINESS,
  );

export const useExportChoices = () =>
  useQuery({
    queryKey: key("exports"),
    queryFn: () => answerOf(client.GET("/api/exports")),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const usePresets = () =>
  useQuery({ queryKey: key("presets"), queryFn: () => answerOf(client.GET("/api/presets")) });

export const usePutPreset = () =>
  useChange((body: Schemas["PresetRequest"]) => answerOf(client.POST("/api/presets", { body })), "presets");

/** Reads the headings of another tool's file; each comes with the column of ours that seems to fit. */
export const useReadLayout = () =>
  useChange((content: string) => answerOf(client.POST("/api/exports/layout", { body: { content } })));

/** Delivers a kept export now, to each of its targets. */
export const useDeliverPreset = () =>
  useChange(
    (preset_id: number) =>
      answerOf(client.POST("/api/presets/{preset_id}/deliver", { params: { path: { preset_id } } })),
    "presets",
  );

export const useDropPreset = () =>
  useChange(
    (preset_id: number) =>
      answerOf(client.DELETE("/api/presets/{preset_id}", { params: { path: { preset_id } } })),
    "presets",
  );

export const useCompare = (ids: string) =>
  useQuery({
    queryKey: key("comparison", ids),
    queryFn: () => answerOf(client.GET("/api/businesses/compare", { params: { query: { ids } } })),
    enabled: ids !== "",
  });

export const usePreview = (service: string, body: ServiceAsked) =>
  useQuery({
    queryKey: key("preview", service, body),
    queryFn: () =>
      service
        ? answerOf(
            client.POST("/api/services/{service_id}/preview", {
              params: { path: { service_id: service } },
              body,
            }),
          )
        : answerOf(client.POST("/api/services/preview", { body })),
    placeholderData: (before) => before,
    retry: false,
  });

export const useRemoved = () =>
  useQuery({
    queryKey: key("services", "removed"),
    queryFn: () => answerOf(client.GET("/api/services/removed")),
  });

export const useVersions = (service_id: string) =>
  useQuery({
    queryKey: key("versions", service_id),
    queryFn: () =>
      answerOf(client.GET("/api/services/{service_id}/versions", { params: { path: { service_id } } })),
    enabled: service_id !== "",
  });

const useServiceChange = <T>(change: (asked: T) => Promise<Schemas["SavedResponse"]>) =>
  useChange(change, "score", "desk", "outreach");

export const useSaveService = () =>
  useServiceChange(({ id, body }: { id: string; body: ServiceAsked }) =>
    id
      ? answerOf(client.PUT("/api/services/{service_id}", { params: { path: { service_id: id } }, body }))
      : answerOf(client.POST("/api/services", { body })),
  );

export const useRestore = () =>
  useServiceChange(({ id, number }: { id: string; number: number }) =>
    answerOf(
      client.POST("/api/services/{service_id}/versions/{number}/restore", {
        params: { path: { service_id: id, number } },
      }),
    ),
  );

export const useRemoveService = () =>
  useServiceChange((id: string) =>
    answerOf(client.DELETE("/api/services/{service_id}", { params: { path: { service_id: id } } })),
  );

export const useInsightChoices = () =>
  useQuery({
    queryKey: key("insight"),
    queryFn: () => answerOf(client.GET("/api/insight")),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const useCrossTable = (
  rows: string,
  columns: string,
  measure: string,
  filter: Record<string, string>,
) =>
  useQuery({
    queryKey: key("crossTable", rows, columns, measure, filter),
    queryFn: () =>
      answerOf(
        client.GET("/api/insight/table", { params: { query: { ...filter, rows, columns, measure } } }),
      ),
    placeholderData: (before) => before,
  });

/** What changed lately, between audits and between runs. */
export const useChanges = () =>
  useQuery({
    queryKey: key("changes"),
    queryFn: () => answerOf(client.GET("/api/changes", { params: { query: { limit: 1000 } } })),
  });
