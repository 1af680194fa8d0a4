import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { A_BUSINESS, key, refresh, useChange } from "./keys";

export type CallSheet = Schemas["CallSheetResponse"];
export type OwnerPage = Schemas["OwnerPageResponse"];
export type ContactAsked = Partial<Schemas["ContactRequest"]> & { result: string };

/** Whom to call from a list now; of no list (0): who is due on any. */
export const useCalls = (shortlist_id: number) =>
  useQuery({
    queryKey: key("calls", shortlist_id),
    queryFn: () =>
      shortlist_id === 0
        ? answerOf(client.GET("/api/calls"))
        : answerOf(
            client.GET("/api/shortlists/{shortlist_id}/calls", { params: { path: { shortlist_id } } }),
          ),
  });

export const useCallSheet = (business_id: number, service: string) =>
  useQuery({
    queryKey: key("callSheet", business_id, service),
    queryFn: () =>
      answerOf(
        client.GET("/api/businesses/{business_id}/call-sheet", {
          params: { path: { business_id }, query: { service } },
        }),
      ),
    enabled: business_id > 0,
  });

/** Notes what came of a contact; the answer's id undoes it. */
export function useNoteContact(business_id: number) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (asked: ContactAsked) =>
      answerOf(
        client.POST("/api/businesses/{business_id}/contacts", {
          params: { path: { business_id } },
          body: { service: "", note: "", follow_up: "", by: "", ...asked },
        }),
      ),
    onSuccess: () => {
      refresh(cache, A_BUSINESS); // not waited for: the next business is to stand there at once
    },
  });
}

/** A business's page for its owner, null before one was made. */
export const useOwnerPage = (business_id: number) =>
  useQuery({
    queryKey: key("ownerPage", business_id),
    queryFn: () =>
      answerOf(
        client.GET("/api/businesses/{business_id}/owner-page", { params: { path: { business_id } } }),
      ) as Promise<OwnerPage | null>,
    enabled: business_id > 0,
  });

type PagesAsked = Partial<Schemas["PagesRequest"]>;

/** Begins to make pages; the answer names the run that does it. */
export const useMakePages = () =>
  useChange(
    (asked: PagesAsked) =>
      answerOf(client.POST("/api/owner-pages", { body: asked as Schemas["PagesRequest"] })),
    "runs",
  );

const usePageAct = <T>(act: (asked: T) => Promise<OwnerPage>) => useChange(act, "outreach", "desk");

export const useSharePage = () =>
  usePageAct(({ page_id, by }: { page_id: number; by: string }) =>
    answerOf(
      client.POST("/api/owner-pages/{page_id}/share", { params: { path: { page_id } }, body: { by } }),
    ),
  );

export const useWithdrawPage = () =>
  usePageAct(({ page_id, by }: { page_id: number; by: string }) =>
    answerOf(
      client.POST("/api/owner-pages/{page_id}/withdraw", { params: { path: { page_id } }, body: { by } }),
    ),
  );

export const useSections = () =>
  usePageAct(({ page_id, sections }: { page_id: number; sections: string[] }) =>
    answerOf(
      client.PUT("/api/owner-pages/{page_id}/sections", {
        params: { path: { page_id } },
        body: { sections },
      }),
    ),
  );

export const useOwnerPages = () =>
  useQuery({ queryKey: key("ownerPages"), queryFn: () => answerOf(client.GET("/api/owner-pages")) });

/** What owners wrote; asked again now and then, as it comes from outside. */
export const useReplies = () =>
  useQuery({
    queryKey: key("replies"),
    queryFn: () => answerOf(client.GET("/api/replies")),
    refetchInterval: 20_000,
  });

export const useMarkReply = () =>
  useChange(
    ({ reply_id, done }: { reply_id: number; done: boolean }) =>
      answerOf(client.PUT("/api/replies/{reply_id}", { params: { path: { reply_id } }, body: { done } })),
    "replies",
  );

export const useLetterhead = () =>
  useQuery({ queryKey: key("letterhead"), queryFn: () => answerOf(client.GET("/api/letterhead")) });

export const usePutLetterhead = () =>
  useChange(
    (body: Schemas["LetterheadRequest"]) => answerOf(client.PUT("/api/letterhead", { body })),
    "letterhead",
  );

/** Keeps a picture as the logo, or none. */
export const usePutLogo = () =>
  useChange(
    (file: File | null) =>
      file
        ? answerOf(
            client.PUT("/api/letterhead/logo", {
              body: file as never,
              bodySerializer: (body) => body as never,
            }),
          )
        : answerOf(client.DELETE("/api/letterhead/logo")),
    "letterhead",
  );

export const useMailing = (shortlist_id: number, days: number) =>
  useQuery({
    queryKey: key("mailing", shortlist_id, days),
    queryFn: () =>
      answerOf(
        client.GET("/api/shortlists/{shortlist_id}/mailing", {
          params: { path: { shortlist_id }, query: { days } },
        }),
      ),
    placeholderData: (before) => before,
  });

export const useSendMailing = (shortlist_id: number) =>
  useChange(
    (body: Schemas["MailingRequest"]) =>
      answerOf(
        client.POST("/api/shortlists/{shortlist_id}/mailings", { params: { path: { shortlist_id } }, body }),
      ),
    ...A_BUSINESS,
  );

/** What can be left out on paper. */
export const usePaperParts = () =>
  useQuery({ queryKey: key("paperParts"), queryFn: () => answerOf(client.GET("/api/paper-parts")) });
