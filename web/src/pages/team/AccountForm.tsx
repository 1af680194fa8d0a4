import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import {
  type Account,
  type AccountRequest,
  type Permission,
  useMe,
  useSaveAccount,
} from "../../queries/team";
import { Field } from "./Door";
import { ROLES } from "./TeamPage";

interface Props {
  account?: Account;
  team: Schemas["TeamResponse"];
  onDone: (answer?: Schemas["TeamResponse"]) => void;
}

/** Somebody's name, address and role, and what they may do. */
export default function AccountForm({ account, team, onDone }: Props) {
  const save = useSaveAccount();
  const mine = useMe().data;
  const [draft, setDraft] = useState<AccountRequest>({
    id: account?.id ?? 0,
    email: account?.email ?? "",
    name: account?.name ?? "",
    role: account?.role ?? "caller",
    own_permissions: account?.own_permissions ?? null,
    active: account?.active ?? true,
  });
  const set = (change: Partial<AccountRequest>) => setDraft((now) => ({ ...now, ...change }));
  const ofRole = team.roles[draft.role] ?? [];
  const may = draft.own_permissions ?? ofRole;
  const toggle = (id: Permission) =>
    set({ own_permissions: may.includes(id) ? may.filter((one) => one !== id) : [...may, id] });
  const themselves = account !== undefined && account.email === mine?.email;
  return (
    <form
      aria-label={account ? "Edit an account" : "Invite somebody"}
      className="mt-3 max-w-2xl space-y-2 border border-line bg-sheet p-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(draft, { onSuccess: onDone });
      }}
    >
      <div className="grid grid-cols-2 gap-3">
        <Field label="Name" value={draft.name} onChange={(name) => set({ name })} first />
        <Field label="E-mail address" type="email" value={draft.email} onChange={(email) => set({ email })} />
      </div>
      <label className="block">
        <span className="block text-soft">Role</span>
        <select
          value={draft.role}
          disabled={themselves}
          onChange={(event) => set({ role: event.target.value, own_permissions: null })}
          className="w-48 box"
        >
          {Object.keys(team.roles).map((role) => (
            <option key={role} value={role} disabled={role === "owner" && mine?.role !== "owner"}>
              {ROLES[role]}
            </option>
          ))}
        </select>
      </label>
      <fieldset disabled={themselves || draft.role === "owner"}>
        <legend className="text-soft">
          May
          {draft.own_permissions && (
            <Button look="quiet" onClick={() => set({ own_permissions: null })}>
              As the role says
            </Button>
          )}
        </legend>
        {team.permissions.map((one) => (
          <label key={one.id} className="flex items-center gap-1.5 py-0.5">
            <input
              type="checkbox"
              checked={may.includes(one.id)}
              disabled={one.id === "see"}
              onChange={() => toggle(one.id)}
            />
            {one.meaning}
          </label>
        ))}
      </fieldset>
      {account && !themselves && (
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={!draft.active}
            onChange={(event) => set({ active: !event.target.checked })}
          />
          Switched off: cannot sign in, and is signed out everywhere
        </label>
      )}
      {themselves && <p className="text-soft">Nobody changes their own rights: another owner can.</p>}
      <ErrorNote error={save.error} />
      <p className="flex gap-1.5">
        <Button look="main" type="submit" disabled={save.isPending || !draft.name || !draft.email}>
          {account ? "Save" : "Invite"}
        </Button>
        <Button onClick={() => onDone()}>Cancel</Button>
      </p>
    </form>
  );
}
