import { useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { key, useChange } from "./keys";

export type Gateway = Schemas["GatewayRequest"];

/** The gateway of text messages, and the registers that were imported. */
export const useTextGateway = () =>
  useQuery({ queryKey: key("textGateway"), queryFn: () => answerOf(client.GET("/api/text-gateway")) });

/** Saves the gateway, or (with null) takes it away. */
export const useSaveGateway = () =>
  useChange(
    (body: Gateway | null) =>
      body
        ? answerOf(client.PUT("/api/text-gateway", { body })).then(() => undefined)
        : answerOf(client.DELETE("/api/text-gateway")),
    "textGateway",
  );

export const useTestText = () =>
  useChange((to: string) => answerOf(client.POST("/api/text-gateway/test", { body: { to } })), "textGateway");

export const useImportRegister = () =>
  useChange(
    (body: Schemas["RegisterRequest"]) => answerOf(client.POST("/api/do-not-call", { body })),
    "textGateway",
  );

export const useDeleteRegister = () =>
  useChange(
    (register: string) => answerOf(client.DELETE("/api/do-not-call", { params: { query: { register } } })),
    "textGateway",
  );
