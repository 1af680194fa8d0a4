import { useState } from "react";
import { Problem } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { useTitle } from "../../lib/useTitle";
import { knowsPasskeys, useSignInByPasskey } from "../../queries/passkeys";
import { useForgotten, useSignIn } from "../../queries/team";
import Door, { Field } from "./Door";

/** Asks who it is: e-mail address, password and, where it is on, a one-time code. */
export default function SignIn() {
  const [email, setEmail] = useState("");
  const [password, setPassword] = useState("");
  const [code, setCode] = useState("");
  const signIn = useSignIn();
  const forgotten = useForgotten();
  const byPasskey = useSignInByPasskey();
  useTitle("Sign in");
  const asksForCode = (signIn.error instanceof Problem && signIn.error.where === "code") || code !== "";
  const onlyAsks = asksForCode && code === "";
  return (
    <Door
      title="Sign in"
      onSubmit={() => signIn.mutate({ email, password, code })}
      foot={
        <Button
          look="quiet"
          className="-ml-1.5"
          disabled={!email || forgotten.isPending}
          onClick={() => forgotten.mutate(email)}
          title={email ? "" : "Enter your e-mail address first"}
        >
          Forgotten your password?
        </Button>
      }
    >
      <Field
        label="E-mail address"
        type="email"
        autoComplete="username"
        value={email}
        onChange={setEmail}
        first
      />
      <Field
        label="Password"
        type="password"
        autoComplete="current-password"
        value={password}
        onChange={setPassword}
      />
      {asksForCode && (
        <Field
          label="One-time code, or a recovery code"
          autoComplete="one-time-code"
          value={code}
          onChange={setCode}
          first
        />
      )}
      {!onlyAsks && <ErrorNote error={signIn.error} />}
      <ErrorNote error={forgotten.error} />
      {forgotten.isSuccess && (
        <output className="block text-soft">If this address has an account, a link is on its way.</output>
      )}
      <p className="flex gap-1.5">
        <Button type="submit" look="main" disabled={signIn.isPending || !email || !password}>
          {signIn.isPending ? "Signing in …" : "Sign in"}
        </Button>
        {knowsPasskeys() && (
          <Button disabled={byPasskey.isPending} onClick={() => byPasskey.mutate(undefined)}>
            Use a passkey
          </Button>
        )}
      </p>
      <ErrorNote error={byPasskey.error} />
    </Door>
  );
}
