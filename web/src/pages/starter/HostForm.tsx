import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { type HostRequest, useHostKey, useSaveHost, type WebsiteHost } from "../../queries/publishing";

const KINDS: [HostRequest["kind"], string, string][] = [
  ["folder", "A folder of this machine", "websites, or a delivery folder of Settings"],
  ["sftp", "A web host, by SFTP", "sftp://host.example/websites"],
  ["git", "A git repository", "https://code.example/agency/websites.git"],
];

/** A host: where it is, how to sign in, and the server’s key, which the user compares once. */
export default function HostForm({ host, onDone }: { host?: WebsiteHost; onDone: () => void }) {
  const [draft, setDraft] = useState<HostRequest>({
    id: host?.id ?? 0,
    name: host?.name ?? "",
    kind: (host?.kind as HostRequest["kind"]) ?? "sftp",
    address: host?.address ?? "",
    account: host?.account ?? "",
    secret: host ? null : "",
    host_key: "",
    branch: host?.branch ?? "",
  });
  const key = useHostKey();
  const save = useSaveHost();
  const set = (change: Partial<HostRequest>) => setDraft((now) => ({ ...now, ...change }));
  const shown = key.data?.fingerprint;
  const keep = (host_key: string) => save.mutate({ ...draft, host_key }, { onSuccess: onDone });
  const check = () =>
    key.mutate(draft, {
      onSuccess: (found) => {
        if (!found.host_key || found.fingerprint === host?.fingerprint) keep(found.host_key);
      },
    });
  const text = (name: "name" | "address" | "account" | "branch", label: string, hint = "") => (
    <label className="block">
      <span className="block text-soft">{label}</span>
      <input
        value={draft[name] ?? ""}
        placeholder={hint}
        onChange={(event) => {
          set({ [name]: event.target.value });
          key.reset();
        }}
        className="w-full box"
      />
    </label>
  );
  return (
    <form
      aria-label="Host"
      className="max-w-xl space-y-2 border border-line bg-sheet p-3"
      onSubmit={(event) => {
        event.preventDefault();
        check();
      }}
    >
      <fieldset>
        <legend className="text-soft">What is it?</legend>
        {KINDS.map(([kind, label]) => (
          <label key={kind} className="flex items-center gap-1.5">
            <input
              type="radio"
              name="kind"
              checked={draft.kind === kind}
              onChange={() => {
                set({ kind });
                key.reset();
              }}
            />
            {label}
          </label>
        ))}
      </fieldset>
      {text("name", "Name", "Our web host")}
      {text(
        "address",
        draft.kind === "folder" ? "Folder" : "Address",
        KINDS.find(([kind]) => kind === draft.kind)?.[2],
      )}
      {draft.kind !== "folder" && (
        <>
          {text("account", "User name")}
          <label className="block">
            <span className="block text-soft">Password, token or private key</span>
            <textarea
              rows={2}
              autoComplete="off"
              spellCheck={false}
              value={draft.secret ?? ""}
              placeholder={host?.secret_kept ? "kept; enter another to change it" : ""}
              onChange={(event) => set({ secret: event.target.value })}
              className="w-full box font-mono text-xs [-webkit-text-security:disc]"
            />
          </label>
        </>
      )}
      {draft.kind === "git" && text("branch", "Branch", "main")}
      <ErrorNote error={key.error ?? save.error} />
      {shown && shown !== host?.fingerprint ? (
        <div className="border border-acorn px-2 py-1.5">
          <p>
            The server shows the key <span className="break-all font-mono text-xs">{shown}</span>
          </p>
          <p className="text-soft">Compare it with what your host publishes. It is asked for only once.</p>
          <Button
            look="main"
            className="mt-1.5"
            disabled={save.isPending}
            onClick={() => keep(key.data?.host_key ?? "")}
          >
            {save.isPending ? "Signing in …" : "It is the right key"}
          </Button>
        </div>
      ) : (
        <Button look="main" type="submit" disabled={key.isPending || save.isPending}>
          {key.isPending || save.isPending ? "Trying it …" : "Try and save"}
        </Button>
      )}{" "}
      <Button onClick={onDone}>Cancel</Button>
    </form>
  );
}
