import { useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { key, useChange } from "./keys";

export type AllowanceUse = Schemas["AllowanceResponse"];

export const useAllowances = (signedIn: boolean) =>
  useQuery({
    queryKey: key("allowances"),
    queryFn: () => answerOf(client.GET("/api/allowances")),
    enabled: signedIn,
    refetchInterval: 300_000,
  });

export const useSpending = () =>
  useQuery({ queryKey: key("spending"), queryFn: () => answerOf(client.GET("/api/spending")) });

export const useSetLimits = () =>
  useChange(
    ({ account, ...body }: Schemas["LimitsRequest"] & { account: number }) =>
      answerOf(client.PUT("/api/spending/{account}", { params: { path: { account } }, body })),
    "spending",
    "allowances",
  );

export const useBackups = () =>
  useQuery({ queryKey: key("backups"), queryFn: () => answerOf(client.GET("/api/backups")) });

export const useBackUp = () => useChange(() => answerOf(client.POST("/api/backups")), "backups");

export const useMakeBackupKey = () =>
  useChange(() => answerOf(client.POST("/api/backups/key")), "backups", "settings");

/** Takes a file of everything in. */
export const useTakeIn = () =>
  useChange(
    (file: File) =>
      answerOf(
        client.POST("/api/everything", {
          body: file as unknown as string,
          bodySerializer: (body) => body as unknown as BodyInit,
          headers: { "Content-Type": "application/octet-stream" },
        }),
      ),
    "desk",
    "outreach",
    "runs",
    "match",
  );
