import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { author } from "../../lib/session";
import { useMakeFirstOwner } from "../../queries/team";
import { Field } from "./Door";

/** Before there are accounts: whoever sits here makes their own, and then invites the others. */
export default function FirstOwner() {
  const [draft, setDraft] = useState({ name: author(), email: "", password: "" });
  const make = useMakeFirstOwner();
  const set = (change: Partial<typeof draft>) => setDraft((now) => ({ ...now, ...change }));
  return (
    <form
      aria-label="Your account"
      className="max-w-md space-y-2"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate(draft);
      }}
    >
      <p className="text-soft">
        So far this application is open to anybody who uses this computer. To work as a team, make your own
        account first. From then on everybody signs in, you too.
      </p>
      <Field label="Your name" autoComplete="name" value={draft.name} onChange={(name) => set({ name })} />
      <Field
        label="E-mail address"
        type="email"
        autoComplete="username"
        value={draft.email}
        onChange={(email) => set({ email })}
      />
      <Field
        label="Password (at least 12 characters)"
        type="password"
        autoComplete="new-password"
        value={draft.password}
        onChange={(password) => set({ password })}
      />
      <ErrorNote error={make.error} />
      <Button
        type="submit"
        look="main"
        disabled={make.isPending || !draft.name || !draft.email || draft.password.length < 12}
      >
        Make my account
      </Button>
    </form>
  );
}
