import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { day } from "../../lib/format";
import { knowsPasskeys, useDropPasskey, useMakePasskey, usePasskeys } from "../../queries/passkeys";
import { Field } from "./Door";

/** Devices that stand for password and code: a phone, a computer, a key on the ring. */
export default function Passkeys() {
  const query = usePasskeys();
  const make = useMakePasskey();
  const drop = useDropPasskey();
  const [password, setPassword] = useState("");
  const [name, setName] = useState("");
  return (
    <div>
      <h2 className="text-[15px]">Passkeys</h2>
      <p className="text-soft">
        A passkey signs you in by this device: by finger, face or its code. No password is typed that somebody
        could steal.
      </p>
      <ul className="mt-1">
        {(query.data ?? []).map((one) => (
          <li key={one.id} className="flex items-baseline gap-3 border-t border-line py-1">
            <span>{one.name}</span>
            <span className="text-soft">
              since {day(one.made_at)}
              {one.used_at ? `, last used ${day(one.used_at)}` : ", not used yet"}
            </span>
            <Button look="quiet" className="ml-auto" onClick={() => drop.mutate(one.id)}>
              Remove
            </Button>
          </li>
        ))}
      </ul>
      {knowsPasskeys() ? (
        <form
          aria-label="Add a passkey"
          className="mt-1 flex items-end gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            make.mutate(
              { password, name },
              {
                onSuccess: () => {
                  setPassword("");
                  setName("");
                },
              },
            );
          }}
        >
          <Field label="Name of this device" value={name} onChange={setName} />
          <Field
            label="Your password"
            type="password"
            autoComplete="current-password"
            value={password}
            onChange={setPassword}
          />
          <Button type="submit" disabled={!name.trim() || !password || make.isPending}>
            Add a passkey
          </Button>
        </form>
      ) : (
        <p>This browser knows no passkeys.</p>
      )}
      <ErrorNote error={query.error ?? make.error ?? drop.error} />
    </div>
  );
}
