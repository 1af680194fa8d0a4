import { useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { keepFile } from "../lib/files";
import { key, useChange } from "./keys";

export type PersonAsked = Schemas["PersonRequest"];

export const usePeopleData = () =>
  useQuery({ queryKey: key("peopleData"), queryFn: () => answerOf(client.GET("/api/people-data")) });

export const useFindPerson = () =>
  useChange((body: PersonAsked) => answerOf(client.POST("/api/people-data/find", { body })));

/** One person's data as a file that the browser keeps. */
export const useExportPerson = () =>
  useChange(async (body: PersonAsked) => {
    const found = await answerOf(client.POST("/api/people-data/export", { body, parseAs: "blob" }));
    keepFile(found as unknown as Blob, "person.json");
  });

export const useErasePerson = () =>
  useChange(
    (body: PersonAsked) => answerOf(client.POST("/api/people-data/erase", { body })),
    "peopleData",
    "desk",
    "outreach",
    "match",
  );

export const useSaveBasis = () =>
  useChange(
    (body: Schemas["BasisRequest"]) => answerOf(client.PUT("/api/people-data/bases", { body })),
    "peopleData",
  );
