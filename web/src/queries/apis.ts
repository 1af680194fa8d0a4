import { useMutation, useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { key, useChange } from "./keys";

type Api = Schemas["ApiResponse"];
/** A recipe in the making; secret: the key as typed, undefined to leave the kept one. */
export type ApiDraft = Api & { secret?: string };

export const useApis = () =>
  useQuery({ queryKey: key("apis"), queryFn: () => answerOf(client.GET("/api/apis")) });

const asked = ({
  id: _id,
  by: _by,
  secret_kept: _kept,
  secret,
  ...body
}: ApiDraft): Schemas["ApiRequest"] => ({
  ...body,
  secret: secret ?? null,
});

export const useTryApi = () =>
  useMutation({
    mutationFn: ({
      draft,
      ...sample
    }: {
      draft: ApiDraft;
      address: string;
      body: string;
      answer: string;
      term: string;
      place: string;
      business: Schemas["LookedUp"];
    }) =>
      answerOf(
        client.POST("/api/apis/sample", {
          body: {
            ...sample,
            recipe: {
              ...asked(draft),
              title: draft.title || "New service",
              address: draft.address || sample.address,
            },
            recipe_id: draft.id,
          },
        }),
      ),
  });

export const useSaveApi = () =>
  useChange(
    (draft: ApiDraft) =>
      answerOf(
        draft.id
          ? client.PUT("/api/apis/{recipe_id}", {
              params: { path: { recipe_id: draft.id } },
              body: asked(draft),
            })
          : client.POST("/api/apis", { body: asked(draft) }),
      ),
    "apis",
    "sources",
  );

export const useDropApi = () =>
  useChange(
    (recipe_id: number) =>
      answerOf(client.DELETE("/api/apis/{recipe_id}", { params: { path: { recipe_id } } })),
    "apis",
    "sources",
  );
