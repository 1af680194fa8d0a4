import { useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { key, useChange } from "./keys";

export type Webhook = Schemas["WebhooksResponse"]["webhooks"][number];
export type WebhookDelivery = Schemas["WebhooksResponse"]["deliveries"][number];
export type WebhookRequest = Schemas["WebhookRequest"];

const path = (number: number) => ({ params: { path: { number } } });

/** All webhooks and their newest deliveries; looked at again while something is on its way. */
export const useWebhooks = () =>
  useQuery({
    queryKey: key("webhooks"),
    queryFn: () => answerOf(client.GET("/api/webhooks")),
    refetchInterval: (query) => (query.state.data?.deliveries.some((item) => item.next_at) ? 5000 : false),
  });

export const useSaveWebhook = () =>
  useChange((body: WebhookRequest) => answerOf(client.PUT("/api/webhooks", { body })), "webhooks");

export const useTestWebhook = () =>
  useChange(
    (number: number) => answerOf(client.POST("/api/webhooks/{number}/test", path(number))),
    "webhooks",
  );

export const useRenewSecret = () =>
  useChange(
    (number: number) => answerOf(client.POST("/api/webhooks/{number}/secret", path(number))),
    "webhooks",
  );

export const useDeleteWebhook = () =>
  useChange((number: number) => answerOf(client.DELETE("/api/webhooks/{number}", path(number))), "webhooks");

export const useSendAgain = () =>
  useChange(
    (number: number) => answerOf(client.POST("/api/webhook-deliveries/{number}/again", path(number))),
    "webhooks",
  );
