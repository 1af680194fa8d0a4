import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import ShownOnce from "../../components/ShownOnce";
import { day } from "../../lib/format";
import { type Permission, useCredentials, useEndCredential, useMakeToken } from "../../queries/team";
import { Field } from "./Door";

const SCOPES: Record<Permission, string> = {
  see: "see businesses",
  people: "see people’s data",
  work: "shortlist and note",
  send: "send messages",
  export: "export",
  spend: "run sweeps",
  offers: "change offers",
  manage: "change settings",
};
const YEAR_MS = 365 * 86_400_000;
const inAYear = () => new Date(Date.now() + YEAR_MS).toISOString().slice(0, 10);

/** Keys for programs that act in one's name, each with what it may do and its last day. */
export default function Tokens({ mine }: { mine: Permission[] }) {
  const credentials = useCredentials();
  const make = useMakeToken();
  const end = useEndCredential();
  const [name, setName] = useState("");
  const [until, setUntil] = useState(inAYear);
  const [scopes, setScopes] = useState<Permission[]>(["see"]);
  const toggle = (scope: Permission) =>
    setScopes((now) => (now.includes(scope) ? now.filter((one) => one !== scope) : [...now, scope]));
  return (
    <div>
      <h2 className="text-[15px]">Tokens for programs</h2>
      <p className="text-soft">
        A program shows its token and acts in your name, within what you tick. Take it back any time.
      </p>
      {make.data?.secret && (
        <ShownOnce
          words="The token. It is shown only now."
          text={make.data.secret}
          onDone={() => make.reset()}
        />
      )}
      <ul className="mt-1">
        {credentials.data?.tokens.map((one) => (
          <li key={one.id} className="flex items-baseline gap-3 border-t border-line py-1">
            <span className="font-medium">{one.name}</span>
            <span className="text-soft">
              {one.scopes?.map((scope) => SCOPES[scope as Permission]).join(", ")} · until{" "}
              {day(one.expires_at)} · last used {day(one.seen_at)}
            </span>
            <span className="ml-auto">
              <Button look="quiet" onClick={() => end.mutate(one.id)}>
                Take back
              </Button>
            </span>
          </li>
        ))}
      </ul>
      <form
        aria-label="Make a token"
        className="mt-2 space-y-2 border border-line bg-sheet p-3"
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate({ name, until, scopes }, { onSuccess: () => setName("") });
        }}
      >
        <div className="flex gap-3">
          <Field label="What it is for" value={name} onChange={setName} />
          <Field label="Last day" type="date" value={until} onChange={setUntil} />
        </div>
        <fieldset className="flex flex-wrap gap-x-4">
          <legend className="text-soft">It may</legend>
          {(Object.keys(SCOPES) as Permission[])
            .filter((scope) => mine.includes(scope))
            .map((scope) => (
              <label key={scope} className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={scopes.includes(scope)}
                  disabled={scope === "see"}
                  onChange={() => toggle(scope)}
                />
                {SCOPES[scope]}
              </label>
            ))}
        </fieldset>
        <ErrorNote error={make.error ?? end.error} />
        <Button type="submit" disabled={!name || make.isPending}>
          Make a token
        </Button>
      </form>
    </div>
  );
}
