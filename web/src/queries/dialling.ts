import { useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { A_BUSINESS, key, useChange } from "./keys";

export type CallResultsAsked = Schemas["CallResultsRequest"];

/** Columns that a call list can hold, and those chosen. */
export const useCallColumns = () =>
  useQuery({ queryKey: key("callColumns"), queryFn: () => answerOf(client.GET("/api/call-list-columns")) });

export const useChooseCallColumns = () =>
  useChange(
    (chosen: string[]) => answerOf(client.PUT("/api/call-list-columns", { body: { chosen } })),
    "callColumns",
  );

/** Shows what a dialler's file of results says, or notes it. */
export const useCallResults = () =>
  useChange((body: CallResultsAsked) => answerOf(client.POST("/api/call-results", { body })), ...A_BUSINESS);
