import { useQuery } from "@tanstack/react-query";
import { answerOf, client, Problem, type Schemas } from "../api/client";
import { key, useChange } from "./keys";
import { useEntering } from "./team";

/** What browsers of today can do with the JSON of WebAuthn level 3. */
interface FromJson {
  parseCreationOptionsFromJSON(options: unknown): PublicKeyCredentialCreationOptions;
  parseRequestOptionsFromJSON(options: unknown): PublicKeyCredentialRequestOptions;
}
type Answer = Schemas["PasskeyAnswer"]["answer"];

const browser = () => window.PublicKeyCredential as unknown as FromJson | undefined;

/** Can this browser make and show passkeys? */
export const knowsPasskeys = () => Boolean(browser()?.parseCreationOptionsFromJSON);

const REFUSED = new Problem("no passkey was used", "passkey", "try again, or sign in by your password");

async function answerOfDevice(asked: Promise<Credential | null>): Promise<Answer> {
  try {
    const given = (await asked) as PublicKeyCredential | null;
    if (given) return given.toJSON() as unknown as Answer;
  } catch {
    // whoever was asked said no, took too long, or the device has none
  }
  throw REFUSED;
}

export const usePasskeys = () =>
  useQuery({ queryKey: key("passkeys"), queryFn: () => answerOf(client.GET("/api/me/passkeys")) });

/** Makes a passkey on this device. */
export const useMakePasskey = () =>
  useChange(async ({ password, name }: { password: string; name: string }) => {
    const { number, options } = await answerOf(client.POST("/api/me/passkeys", { body: { password } }));
    const publicKey = browser()?.parseCreationOptionsFromJSON(options);
    const answer = await answerOfDevice(navigator.credentials.create({ publicKey }));
    return answerOf(client.PUT("/api/me/passkeys", { body: { number, answer, name } }));
  }, "passkeys");

export const useDropPasskey = () =>
  useChange(
    (number: number) =>
      answerOf(client.DELETE("/api/me/passkeys/{number}", { params: { path: { number } } })),
    "passkeys",
  );

/** Signs in by a passkey of this device. */
export const useSignInByPasskey = () =>
  useEntering(async () => {
    const { number, options } = await answerOf(client.POST("/api/passkey-sign-in"));
    const publicKey = browser()?.parseRequestOptionsFromJSON(options);
    const answer = await answerOfDevice(navigator.credentials.get({ publicKey }));
    return answerOf(client.PUT("/api/passkey-sign-in", { body: { number, answer } }));
  });
