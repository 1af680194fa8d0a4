import { useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { A_BUSINESS, key, useChange } from "./keys";

export type Template = Schemas["TemplateVersion"];
export type SequenceLine = Schemas["SequenceResponse"];
export type Mailbox = Schemas["MailboxResponse"];
export type MessageState = Schemas["QueueLine"]["state"];

const OFTEN = 15_000;

export const useTemplates = () =>
  useQuery({ queryKey: key("templates"), queryFn: () => answerOf(client.GET("/api/message-templates")) });

export const useTemplateVersions = (id: string) =>
  useQuery({
    queryKey: key("templates", "versions", id),
    queryFn: () => answerOf(client.GET("/api/message-template-versions", { params: { query: { id } } })),
    enabled: id !== "",
  });

export const useSaveTemplate = () =>
  useChange(
    (body: Schemas["TemplateRequest"]) => answerOf(client.PUT("/api/message-templates", { body })),
    "templates",
  );

export const useDropTemplate = () =>
  useChange(
    ({ id, by }: { id: string; by: string }) =>
      answerOf(client.DELETE("/api/message-templates", { params: { query: { id, by } } })),
    "templates",
  );

/** What a business would get of a template as it stands in the editor. */
export const useTemplatePreview = (asked: Schemas["TemplatePreviewRequest"] | null) =>
  useQuery({
    queryKey: key("templatePreview", asked),
    queryFn: () =>
      answerOf(
        client.POST("/api/message-template-preview", { body: asked as Schemas["TemplatePreviewRequest"] }),
      ),
    enabled: asked !== null,
    placeholderData: (before) => before,
    retry: false,
  });

/** Who of a list gets a template as it stands in the editor, and why others do not. */
export const useTemplateFit = (asked: Schemas["TemplateFitRequest"] | null) =>
  useQuery({
    queryKey: key("templateFit", asked),
    queryFn: () =>
      answerOf(client.POST("/api/message-template-fit", { body: asked as Schemas["TemplateFitRequest"] })),
    enabled: asked !== null,
    placeholderData: (before) => before,
    retry: false,
  });

export type WhatBy = Schemas["By"];

export const useWhatWorks = (by: WhatBy) =>
  useQuery({
    queryKey: key("whatWorks", by),
    queryFn: () => answerOf(client.GET("/api/what-works", { params: { query: { by } } })),
  });

export const useSequences = () =>
  useQuery({
    queryKey: key("sequences"),
    queryFn: () => answerOf(client.GET("/api/sequences")),
    refetchInterval: OFTEN,
  });

export const useSaveSequence = () =>
  useChange(
    (body: Schemas["SequenceRequest"]) => answerOf(client.PUT("/api/sequences", { body })),
    "sequences",
  );

export const useDeleteSequence = () =>
  useChange(
    (sequence_id: number) =>
      answerOf(client.DELETE("/api/sequences/{sequence_id}", { params: { path: { sequence_id } } })),
    "sequences",
  );

export const usePauseSequence = () =>
  useChange(
    ({ sequence_id, paused }: { sequence_id: number; paused: boolean }) =>
      answerOf(
        client.POST("/api/sequences/{sequence_id}/pause", {
          params: { path: { sequence_id }, query: { paused } },
        }),
      ),
    "sequences",
    "queue",
  );

export const useEnrolments = (sequence_id: number) =>
  useQuery({
    queryKey: key("enrolments", sequence_id),
    queryFn: () =>
      answerOf(client.GET("/api/sequences/{sequence_id}/enrolments", { params: { path: { sequence_id } } })),
    enabled: sequence_id > 0,
    refetchInterval: OFTEN,
  });

/** Who of a shortlist would be put into a sequence, and why others would not. */
export const useCandidates = (sequence_id: number, shortlist: number) =>
  useQuery({
    queryKey: key("enrolments", "candidates", sequence_id, shortlist),
    queryFn: () =>
      answerOf(
        client.POST("/api/sequences/{sequence_id}/candidates", {
          params: { path: { sequence_id } },
          body: { ids: [], shortlist, by: "" },
        }),
      ),
    enabled: sequence_id > 0 && shortlist > 0,
  });

export const useEnrol = (sequence_id: number) =>
  useChange(
    ({ shortlist, by }: { shortlist: number; by: string }) =>
      answerOf(
        client.POST("/api/sequences/{sequence_id}/enrolments", {
          params: { path: { sequence_id } },
          body: { ids: [], shortlist, by },
        }),
      ),
    "sequences",
    "enrolments",
    "queue",
    ...A_BUSINESS,
  );

export const useChangeEnrolment = () =>
  useChange(
    ({ number, ...body }: Schemas["EnrolmentRequest"] & { number: number }) =>
      answerOf(client.POST("/api/enrolments/{number}", { params: { path: { number } }, body })),
    "sequences",
    "enrolments",
    "queue",
  );

export const useMailboxes = () =>
  useQuery({
    queryKey: key("mailboxes"),
    queryFn: () => answerOf(client.GET("/api/mailboxes")),
    refetchInterval: OFTEN,
  });

export const useSaveMailbox = () =>
  useChange(
    (body: Schemas["MailboxRequest"]) => answerOf(client.PUT("/api/mailboxes", { body })),
    "mailboxes",
    "queue",
  );

export const useDeleteMailbox = () =>
  useChange(
    (number: number) => answerOf(client.DELETE("/api/mailboxes/{number}", { params: { path: { number } } })),
    "mailboxes",
    "queue",
  );

export const useTryMailbox = () =>
  useChange(
    (number: number) =>
      answerOf(client.POST("/api/mailboxes/{number}/try", { params: { path: { number } } })),
    "mailboxes",
  );

export const useSendTest = () =>
  useChange(({ number, to }: { number: number; to: string }) =>
    answerOf(
      client.POST("/api/mailboxes/{number}/test-message", { params: { path: { number } }, body: { to } }),
    ),
  );

export const useSendingRules = () =>
  useQuery({ queryKey: key("sendingRules"), queryFn: () => answerOf(client.GET("/api/sending")) });

export const useSaveSendingRules = () =>
  useChange(
    (body: Schemas["RulesModel"]) => answerOf(client.PUT("/api/sending", { body })),
    "sendingRules",
    "queue",
  );

export const useQueue = (states: MessageState[], first: number) =>
  useQuery({
    queryKey: key("queue", states, first),
    queryFn: () => answerOf(client.GET("/api/queue", { params: { query: { states, first } } })),
    refetchInterval: OFTEN,
    placeholderData: (before) => before,
  });

export const useMessage = (number: number) =>
  useQuery({
    queryKey: key("queue", "message", number),
    queryFn: () => answerOf(client.GET("/api/messages/{number}", { params: { path: { number } } })),
    enabled: number > 0,
  });

export const useChangeMessage = () =>
  useChange(
    ({ number, ...body }: Schemas["MessageRequest"] & { number: number }) =>
      answerOf(client.PUT("/api/messages/{number}", { params: { path: { number } }, body })),
    "queue",
  );

export type Reworded = Schemas["RewordResponse"];

/** What the writing helper makes of a draft, judged; nothing is saved by it. */
export const useReword = (number: number) =>
  useChange((body: Schemas["RewordRequest"]) =>
    answerOf(client.POST("/api/messages/{number}/reword", { params: { path: { number } }, body })),
  );

export const useApprove = () =>
  useChange(
    (body: Schemas["ApproveRequest"]) => answerOf(client.POST("/api/messages/approve", { body })),
    "queue",
    "enrolments",
  );

export const useCancelMessage = () =>
  useChange(
    (number: number) =>
      answerOf(client.POST("/api/messages/{number}/cancel", { params: { path: { number } } })),
    "queue",
    "enrolments",
  );

/** What arrived in the mailboxes, from people or from machines. */
export const useInbox = (machines: boolean) =>
  useQuery({
    queryKey: key("inbox", machines),
    queryFn: () => answerOf(client.GET("/api/inbox", { params: { query: { machines } } })),
    refetchInterval: OFTEN,
  });

export const useMarkArrived = () =>
  useChange(
    ({ number, done }: { number: number; done: boolean }) =>
      answerOf(client.PUT("/api/inbox/{number}", { params: { path: { number } }, body: { done } })),
    "inbox",
  );

export const useConversation = (business_id: number) =>
  useQuery({
    queryKey: key("inbox", "conversation", business_id),
    queryFn: () =>
      answerOf(
        client.GET("/api/businesses/{business_id}/conversation", { params: { path: { business_id } } }),
      ),
    enabled: business_id > 0,
    refetchInterval: OFTEN,
  });

export const useAnswer = (business_id: number) =>
  useChange(
    (body: Schemas["AnswerRequest"]) =>
      answerOf(
        client.POST("/api/businesses/{business_id}/conversation", {
          params: { path: { business_id } },
          body,
        }),
      ),
    "inbox",
    "queue",
  );
