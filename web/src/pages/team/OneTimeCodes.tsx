import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import ShownOnce from "../../components/ShownOnce";
import { useBeginCodes, useConfirmCodes, useDropCodes } from "../../queries/team";
import { Field } from "./Door";

/** Codes that an app shows: switched on by scanning a picture, off by the password. */
export default function OneTimeCodes({ on }: { on: boolean }) {
  const begin = useBeginCodes();
  const confirm = useConfirmCodes();
  const drop = useDropCodes();
  const [code, setCode] = useState("");
  const [password, setPassword] = useState("");
  const recovery = confirm.data?.recovery ?? [];
  const begun = begin.data;
  return (
    <div>
      <h2 className="text-[15px]">One-time codes</h2>
      {recovery.length > 0 && (
        <ShownOnce
          words="Keep these recovery codes where you find them without your phone. Each works once in place of a code."
          text={recovery.join("\n")}
          onDone={() => confirm.reset()}
        />
      )}
      {on && (
        <form
          aria-label="Switch one-time codes off"
          className="mt-1 flex items-end gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            drop.mutate(password, { onSuccess: () => setPassword("") });
          }}
        >
          <p className="pb-1">On: a code is asked for at each sign-in.</p>
          <Field label="Password" type="password" value={password} onChange={setPassword} />
          <Button type="submit" disabled={!password || drop.isPending}>
            Switch off
          </Button>
        </form>
      )}
      {!on && !begun?.secret && (
        <p className="mt-1">
          <span className="text-soft">Off. With them, a stolen password alone lets nobody in. </span>
          <Button onClick={() => begin.mutate(undefined)}>Switch on</Button>
        </p>
      )}
      {!on && begun?.secret && (
        <form
          aria-label="Switch one-time codes on"
          className="mt-1 flex gap-5"
          onSubmit={(event) => {
            event.preventDefault();
            confirm.mutate({ secret: begun.secret ?? "", code }, { onSuccess: () => begin.reset() });
          }}
        >
          <img
            alt="To be scanned by your app for one-time codes"
            className="size-40 border border-line bg-white"
            src={begun.picture}
          />
          <div className="space-y-2">
            <p>Scan this with an app for one-time codes, or type the key into it:</p>
            <p className="font-mono text-xs break-all">{begun.secret}</p>
            <Field
              label="The six digits that it shows"
              autoComplete="one-time-code"
              value={code}
              onChange={setCode}
            />
            <Button type="submit" look="main" disabled={code.length < 6 || confirm.isPending}>
              Switch on
            </Button>
          </div>
        </form>
      )}
      <ErrorNote error={begin.error ?? confirm.error ?? drop.error} />
    </div>
  );
}
