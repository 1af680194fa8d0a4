import { type QueryClient, useInfiniteQuery, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { answerOf, client, type Schemas } from "../api/client";
import { keepSession } from "../lib/session";
import { key, useChange } from "./keys";

export type Me = Schemas["MeResponse"];
export type Account = Schemas["AccountResponse"];
export type AccountRequest = Schemas["AccountRequest"];
export type Permission = Me["permissions"][number];

const path = (number: number) => ({ params: { path: { number } } });

/** Who is signed in, and what they may do; asked again by nobody but whoever signs in or out. */
export const useMe = () =>
  useQuery({
    queryKey: key("me"),
    queryFn: async () => {
      const me = await answerOf(client.GET("/api/me"));
      keepSession(me.csrf, me.name);
      return me;
    },
    staleTime: Number.POSITIVE_INFINITY,
  });

/** May whoever is here do this? Until it is known: yes, the application refuses what they may not. */
export const useMay = (permission: Permission) => useMe().data?.permissions.includes(permission) ?? true;

const NOBODY: Me = {
  accounts: true,
  name: "",
  email: "",
  role: "",
  permissions: [],
  codes: false,
  csrf: "",
};

/** Nobody is signed in any more: what was asked before is for nobody's eyes. */
export function letGo(cache: QueryClient) {
  keepSession("", "");
  cache.setQueryData(key("me"), NOBODY);
  cache.removeQueries({ predicate: ({ queryKey }) => queryKey[1] !== "me" });
}

/** A change after which somebody else may be here: nothing that was asked before holds any more. */
export function useEntering<Asked>(enter: (asked: Asked) => Promise<Me>) {
  const cache = useQueryClient();
  return useChange(async (asked: Asked) => {
    const me = await enter(asked);
    keepSession(me.csrf, me.name);
    cache.removeQueries({ predicate: ({ queryKey }) => queryKey[1] !== "me" });
    cache.setQueryData(key("me"), me);
    return me;
  });
}

export const useSignIn = () =>
  useEntering((body: Schemas["SignInRequest"]) => answerOf(client.POST("/api/session", { body })));

export const useMakeFirstOwner = () =>
  useEntering((body: Schemas["FirstOwnerRequest"]) => answerOf(client.POST("/api/first-owner", { body })));

export const useChoosePassword = () =>
  useEntering((body: Schemas["NewPasswordRequest"]) => answerOf(client.POST("/api/new-password", { body })));

export const useForgotten = () =>
  useChange((email: string) => answerOf(client.POST("/api/forgotten-password", { body: { email } })));

export function useSignOut() {
  const cache = useQueryClient();
  return useChange(async () => {
    await answerOf(client.DELETE("/api/session"));
    letGo(cache);
  });
}

export const useTeam = () =>
  useQuery({ queryKey: key("team"), queryFn: () => answerOf(client.GET("/api/team")) });

export const useSaveAccount = () =>
  useChange((body: AccountRequest) => answerOf(client.PUT("/api/team", { body })), "team");

export const useMakeLink = () =>
  useChange((number: number) => answerOf(client.POST("/api/team/{number}/link", path(number))));

export const useCredentials = () =>
  useQuery({ queryKey: key("credentials"), queryFn: () => answerOf(client.GET("/api/credentials")) });

export const useMakeToken = () =>
  useChange(
    (body: Schemas["TokenRequest"]) => answerOf(client.POST("/api/credentials/tokens", { body })),
    "credentials",
  );

export const useEndCredential = () =>
  useChange(
    (number: number) => answerOf(client.DELETE("/api/credentials/{number}", path(number))),
    "credentials",
  );

export const useEndEverywhere = () =>
  useChange(() => answerOf(client.DELETE("/api/credentials")), "credentials");

export const useChangePassword = () =>
  useChange(
    (body: Schemas["PasswordRequest"]) => answerOf(client.PUT("/api/me/password", { body })),
    "credentials",
  );

export const useBeginCodes = () => useChange(() => answerOf(client.POST("/api/me/codes")));

export const useConfirmCodes = () =>
  useChange((body: Schemas["CodeRequest"]) => answerOf(client.PUT("/api/me/codes", { body })), "me");

export const useDropCodes = () =>
  useChange((password: string) => answerOf(client.DELETE("/api/me/codes", { body: { password } })), "me");

export const useActivityLog = (author: string, what: string) =>
  useInfiniteQuery({
    queryKey: key("activityLog", author, what),
    queryFn: ({ pageParam }) =>
      answerOf(client.GET("/api/activity-log", { params: { query: { author, what, before: pageParam } } })),
    initialPageParam: 0,
    getNextPageParam: (last) => (last.more ? last.activities.at(-1)?.id : undefined),
  });

const TOLD_MS = 15_000;

const tellOpen = (business_id: number, leaves: boolean) =>
  answerOf(
    client.POST("/api/businesses/{business_id}/presence", {
      params: { path: { business_id } },
      body: { leaves },
    }),
  );

/** Says now and then that a business is open here; returns who else has it open. */
export function usePresence(business_id: number): string[] {
  const signedIn = useMe().data?.name;
  const others = useQuery({
    queryKey: key("presence", business_id),
    queryFn: () => tellOpen(business_id, false),
    enabled: Boolean(signedIn),
    refetchInterval: TOLD_MS,
  });
  useEffect(
    () => () => {
      if (signedIn) tellOpen(business_id, true).catch(() => undefined);
    },
    [business_id, signedIn],
  );
  return others.data ?? [];
}
