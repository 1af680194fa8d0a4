import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { day, when } from "../../lib/format";
import {
  useChangePassword,
  useCredentials,
  useEndCredential,
  useEndEverywhere,
  useMe,
} from "../../queries/team";
import Nav from "../agency/Nav";
import { Field } from "./Door";
import OneTimeCodes from "./OneTimeCodes";
import Passkeys from "./Passkeys";
import Tokens from "./Tokens";

/** One's own account: password, one-time codes, where one is signed in, tokens. */
export default function MyAccount() {
  const me = useMe().data;
  return (
    <div className="flex h-full">
      <Nav title="Your account" />
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard */}
      <section aria-label="Your account" tabIndex={0} className="min-w-0 flex-1 overflow-y-auto px-6 py-4">
        <h1 className="text-lg">Your account</h1>
        {me?.name ? (
          <div className="max-w-3xl space-y-6">
            <p className="text-soft">
              {me.name}, {me.email}
            </p>
            <Password />
            <OneTimeCodes on={me.codes} />
            <Passkeys />
            <Sessions />
            <Tokens mine={me.permissions} />
          </div>
        ) : (
          <p className="text-soft">There are no accounts yet. Make yours under Team.</p>
        )}
      </section>
    </div>
  );
}

function Password() {
  const [old, setOld] = useState("");
  const [password, setPassword] = useState("");
  const change = useChangePassword();
  return (
    <form
      aria-label="Password"
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate(
          { old, password },
          {
            onSuccess: () => {
              setOld("");
              setPassword("");
            },
          },
        );
      }}
    >
      <h2 className="text-[15px]">Password</h2>
      <div className="mt-1 flex items-end gap-3">
        <Field
          label="Present password"
          type="password"
          autoComplete="current-password"
          value={old}
          onChange={setOld}
        />
        <Field
          label="New password"
          type="password"
          autoComplete="new-password"
          value={password}
          onChange={setPassword}
        />
        <Button type="submit" disabled={change.isPending || !old || password.length < 12}>
          Save
        </Button>
      </div>
      <ErrorNote error={change.error} />
      {change.isSuccess && !old && (
        <output className="text-soft">Saved. You are signed out everywhere else.</output>
      )}
    </form>
  );
}

/** What a browser calls itself, shortened to what a person knows it by. */
const browser = (agent: string) => {
  const name = ["Edg", "Firefox", "Chrome", "Safari"].find((one) => agent.includes(one)) ?? "a browser";
  const system =
    ["Windows", "Android", "iPhone", "iPad", "Mac OS", "Linux"].find((one) => agent.includes(one)) ?? "";
  return `${name === "Edg" ? "Edge" : name}${system ? ` on ${system}` : ""}`;
};

function Sessions() {
  const credentials = useCredentials();
  const end = useEndCredential();
  const everywhere = useEndEverywhere();
  const found = credentials.data;
  if (!found) return <ErrorNote error={credentials.error} />;
  return (
    <div>
      <h2 className="text-[15px]">Where you are signed in</h2>
      <ul className="mt-1">
        {found.sessions.map((one) => (
          <li key={one.id} className="flex items-baseline gap-3 border-t border-line py-1">
            <span>{browser(one.name)}</span>
            <span className="text-soft">
              {one.address}, since {day(one.made_at)}, last {when(one.seen_at)}
            </span>
            <span className="ml-auto">
              {one.id === found.current ? (
                <span className="text-soft">this one</span>
              ) : (
                <Button look="quiet" onClick={() => end.mutate(one.id)}>
                  Sign out
                </Button>
              )}
            </span>
          </li>
        ))}
      </ul>
      {found.sessions.length > 1 && (
        <Button className="mt-1" onClick={() => everywhere.mutate(undefined)}>
          Sign out everywhere else
        </Button>
      )}
      <ErrorNote error={end.error ?? everywhere.error} />
    </div>
  );
}
