import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { type Area, answerOf, client, type Schemas } from "../api/client";
import { A_BUSINESS, key, useChange } from "./keys";

export const useTerritories = () =>
  useQuery({ queryKey: key("territories"), queryFn: () => answerOf(client.GET("/api/territories")) });

/** What is held already in some areas. */
export const useKnownCounts = (areas: Area[]) =>
  useQuery({
    queryKey: key("held", areas),
    queryFn: () => answerOf(client.POST("/api/territories/held", { body: { areas } })),
    enabled: areas.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  });

export const useRegionAreas = () =>
  useMutation({
    mutationFn: (region_id: number) =>
      answerOf(client.GET("/api/regions/{region_id}/areas", { params: { path: { region_id } } })),
  });

export const useImportRegions = () =>
  useChange((body: Schemas["TextRequest"]) => answerOf(client.POST("/api/regions", { body })), "regions");

export const useGrowth = (sweep_id: number) =>
  useQuery({
    queryKey: key("growth", sweep_id),
    queryFn: () => answerOf(client.GET("/api/sweeps/{sweep_id}/growth", { params: { path: { sweep_id } } })),
  });

/** The company behind a business, null where none is joined. */
export const useCompany = (id: number) =>
  useQuery({
    queryKey: key("company", id),
    queryFn: async () =>
      (await answerOf(
        client.GET("/api/businesses/{business_id}/company", { params: { path: { business_id: id } } }),
      )) ?? null,
  });

export function useReadAreas() {
  return useMutation({
    mutationFn: ({ kind, text, name }: { kind: "names" | "geojson"; text: string; name: string }) => {
      const body = { body: { text, name } };
      return answerOf(
        kind === "names"
          ? client.POST("/api/territories/names", body)
          : client.POST("/api/territories/geojson", body),
      );
    },
  });
}

export const useKeepTerritory = () =>
  useChange(
    (body: { name: string; areas: Area[] }) => answerOf(client.POST("/api/territories", { body })),
    "territories",
  );

export const useCoverage = (sweep: number, live: boolean) =>
  useQuery({
    queryKey: key("coverage", sweep),
    queryFn: () => answerOf(client.GET("/api/coverage", { params: { query: { sweep } } })),
    refetchInterval: live ? 4000 : false,
  });

export const useComparison = (run: number, earlier: number | undefined) =>
  useQuery({
    queryKey: key("runComparison", run, earlier),
    queryFn: () =>
      answerOf(
        client.GET("/api/runs/{run_id}/compare/{earlier}", {
          params: { path: { run_id: run, earlier: earlier ?? 0 } },
        }),
      ),
    enabled: earlier !== undefined,
  });

export const usePossibleDuplicates = () =>
  useQuery({ queryKey: key("duplicates"), queryFn: () => answerOf(client.GET("/api/duplicates")) });

export const useVerdict = () =>
  useChange(
    (body: Schemas["VerdictRequest"]) => answerOf(client.POST("/api/duplicates", { body })),
    ...A_BUSINESS,
  );

export const useOrigins = (id: number) =>
  useQuery({
    queryKey: key("origins", id),
    queryFn: () =>
      answerOf(
        client.GET("/api/businesses/{business_id}/origins", { params: { path: { business_id: id } } }),
      ),
  });

export const useSplit = (id: number) =>
  useChange(
    (listings: number[]) =>
      answerOf(
        client.POST("/api/businesses/{business_id}/split", {
          params: { path: { business_id: id } },
          body: { listings },
        }),
      ),
    ...A_BUSINESS,
  );

export const useForgetDecision = () =>
  useChange(
    (body: { a: number; b: number }) => answerOf(client.POST("/api/duplicates/forget", { body })),
    ...A_BUSINESS,
  );

export const useCorrect = (id: number) =>
  useChange(
    ({ field, value }: { field: string; value: string | number | null }) =>
      answerOf(
        client.PUT("/api/businesses/{business_id}/fields/{field}", {
          params: { path: { business_id: id, field } },
          body: { value },
        }),
      ),
    ...A_BUSINESS,
  );

/** A recipe in the making; `secret` is there only once something was typed. */
export type Draft = Schemas["RecipeResponse"] & { secret?: string | undefined };

export const useRecipes = () =>
  useQuery({ queryKey: key("recipes"), queryFn: () => answerOf(client.GET("/api/recipes")) });

/** What a recipe may say: fields, how texts are cleaned, how pages follow. */
export const useRecipeChoices = () =>
  useQuery({
    queryKey: key("recipes", "choices"),
    queryFn: () => answerOf(client.GET("/api/recipes/choices")),
    staleTime: Number.POSITIVE_INFINITY,
  });

/** Recipes to begin with. */
export const useStarters = () =>
  useQuery({
    queryKey: key("recipes", "starters"),
    queryFn: () => answerOf(client.GET("/api/recipes/starters")),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const useTryRecipe = () =>
  useMutation({
    mutationFn: (body: Schemas["PageRequest"]) => answerOf(client.POST("/api/recipes/page", { body })),
  });

export const useSaveRecipe = () =>
  useChange(
    ({ id, secret_kept: _, ...plan }: Draft) =>
      answerOf(
        id
          ? client.PUT("/api/recipes/{plan_id}", { params: { path: { plan_id: id } }, body: plan })
          : client.POST("/api/recipes", { body: plan }),
      ),
    "recipes",
    "sources",
  );

export const useDropRecipe = () =>
  useChange(
    (plan_id: number) => answerOf(client.DELETE("/api/recipes/{plan_id}", { params: { path: { plan_id } } })),
    "recipes",
    "sources",
  );

/** Keeps the recipe in a file, of a directory or of a JSON service, as a source. */
export const useTakeRecipe = () =>
  useChange(
    async (file: File) => answerOf(client.POST("/api/recipes/files", { body: { text: await file.text() } })),
    "recipes",
    "apis",
    "sources",
  );

export const useRelationships = () =>
  useQuery({ queryKey: key("relationships"), queryFn: () => answerOf(client.GET("/api/relationships")) });

export const useAddRelationships = () =>
  useChange(
    (body: Schemas["RelationshipsRequest"]) => answerOf(client.POST("/api/relationships", { body })),
    ...A_BUSINESS,
  );

export const useDeleteRelationship = () =>
  useChange(
    (relationship_id: number) =>
      answerOf(
        client.DELETE("/api/relationships/{relationship_id}", { params: { path: { relationship_id } } }),
      ),
    ...A_BUSINESS,
  );

export const useFind = (q: string) =>
  useQuery({
    queryKey: key("find", q),
    queryFn: () => answerOf(client.GET("/api/find", { params: { query: { q } } })),
    enabled: q.length > 1,
  });

export const useImports = () =>
  useQuery({ queryKey: key("imports"), queryFn: () => answerOf(client.GET("/api/imports")) });

/** Sends a file's bytes as they are; nothing is imported before its columns are agreed. */
export const useUpload = () =>
  useMutation({
    mutationFn: (file: File) =>
      answerOf(
        client.POST("/api/imports", {
          params: { query: { name: file.name } },
          body: file as unknown as never,
          bodySerializer: (body: unknown) => body as BodyInit,
          headers: { "Content-Type": "application/octet-stream" },
        }),
      ),
  });

/** Fetches a list from an address, to be read again on every run. */
export const useFetchList = () =>
  useMutation({
    mutationFn: (address: string) =>
      answerOf(client.POST("/api/imports/address", { body: { address: address.trim() } })),
  });

/** Reads an upload in another text encoding. */
export const useChangeEncoding = () =>
  useMutation({
    mutationFn: ({ id, encoding }: { id: number; encoding: string }) =>
      answerOf(
        client.PUT("/api/imports/{import_id}/encoding", {
          params: { path: { import_id: id } },
          body: { encoding },
        }),
      ),
  });

export const usePaste = () =>
  useMutation({
    mutationFn: (body: Schemas["PastedRequest"]) => answerOf(client.POST("/api/imports/pasted", { body })),
  });

export const useStartImport = () =>
  useChange(
    ({ id, ...body }: Schemas["ImportRequest"] & { id: number }) =>
      answerOf(client.POST("/api/imports/{import_id}/start", { params: { path: { import_id: id } }, body })),
    "runs",
    "gather",
    "status",
  );

export const useNearby = (id: number, own_trade: boolean, open: boolean) =>
  useQuery({
    queryKey: key("nearby", id, own_trade),
    queryFn: () =>
      answerOf(
        client.GET("/api/businesses/{business_id}/nearby", {
          params: { path: { business_id: id }, query: { own_trade } },
        }),
      ),
    enabled: open,
  });

/** What the columns of a verifier's table would be taken for. */
export const useVerdictColumns = () =>
  useMutation({
    mutationFn: (text: string) => answerOf(client.POST("/api/verifications/columns", { body: { text } })),
  });

/** Takes in a verifier's table; the businesses whose addresses it is about are scored anew. */
export const useTakeVerdicts = () =>
  useChange(
    (asked: Schemas["VerdictsRequest"]) => answerOf(client.POST("/api/verifications", { body: asked })),
    ...A_BUSINESS,
  );
