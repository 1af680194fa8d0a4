import { type ReactNode, useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { type Mailbox, useSaveMailbox } from "../../queries/messages";

type Asked = Schemas["MailboxRequest"];

const SECURITIES: [NonNullable<Asked["smtp_security"]>, string][] = [
  ["tls", "TLS"],
  ["starttls", "STARTTLS"],
  ["none", "not encrypted"],
];
const NEW: Asked = {
  id: 0,
  address: "",
  name: "",
  smtp_host: "",
  smtp_port: 465,
  smtp_security: "tls",
  imap_host: "",
  imap_port: 993,
  imap_security: "tls",
  user: "",
  sign_in: "password",
  daily_limit: 40,
  gap_s: 180,
  jitter_s: 120,
  warm_up_from: "",
  paused: false,
  password: "",
};

function begin(box: Mailbox | undefined): Asked {
  if (!box) return NEW;
  const known = Object.fromEntries(Object.keys(NEW).map((name) => [name, box[name as keyof Mailbox]]));
  return { ...NEW, ...known, password: null };
}

/** A mailbox's servers, its sign-in and its pace. */
export default function MailboxForm({ box, onDone }: { box?: Mailbox; onDone: () => void }) {
  const [draft, setDraft] = useState<Asked>(begin(box));
  const save = useSaveMailbox();
  const set = (change: Partial<Asked>) => setDraft((now) => ({ ...now, ...change }));
  const text = (name: "address" | "name" | "smtp_host" | "imap_host" | "user", hint = "") => (
    <input
      id={name}
      value={draft[name] ?? ""}
      placeholder={hint}
      onChange={(event) => set({ [name]: event.target.value })}
      className="w-full box"
    />
  );
  const number = (name: "smtp_port" | "imap_port" | "daily_limit" | "gap_s" | "jitter_s") => (
    <input
      id={name}
      type="number"
      value={draft[name]}
      onChange={(event) => set({ [name]: Number(event.target.value) || 0 })}
      className="w-24 box"
    />
  );
  const security = (name: "smtp_security" | "imap_security") => (
    <select
      aria-label={name === "smtp_security" ? "Encryption for sending" : "Encryption for reading"}
      value={draft[name]}
      onChange={(event) => set({ [name]: event.target.value as Asked["smtp_security"] })}
      className="box"
    >
      {SECURITIES.map(([value, words]) => (
        <option key={value} value={value}>
          {words}
        </option>
      ))}
    </select>
  );
  return (
    <form
      aria-label="Mailbox"
      className="mt-2 max-w-4xl border border-line bg-sheet p-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(draft, { onSuccess: onDone });
      }}
    >
      <div className="grid grid-cols-[150px_1fr_150px_1fr] items-center gap-x-3 gap-y-2">
        <Row id="address" words="E-mail address">
          {text("address", "ada@agency.example")}
        </Row>
        <Row id="name" words="Sender’s name">
          {text("name", "Ada Wren")}
        </Row>
        <Row id="smtp_host" words="Server for sending">
          {text("smtp_host", "smtp.agency.example")}
        </Row>
        <Row id="smtp_port" words="Port">
          <span className="flex gap-2">
            {number("smtp_port")} {security("smtp_security")}
          </span>
        </Row>
        <Row id="imap_host" words="Server for reading">
          {text("imap_host", "imap.agency.example")}
        </Row>
        <Row id="imap_port" words="Port">
          <span className="flex gap-2">
            {number("imap_port")} {security("imap_security")}
          </span>
        </Row>
        <Row id="user" words="User name">
          {text("user", "empty: the address")}
        </Row>
        <Row id="password" words="Password or token">
          <span className="flex gap-2">
            <input
              id="password"
              type="password"
              autoComplete="off"
              value={draft.password ?? ""}
              placeholder={box?.password_kept ? "kept; enter another to change it" : ""}
              onChange={(event) => set({ password: event.target.value })}
              className="w-full box"
            />
            <select
              aria-label="How to sign in"
              value={draft.sign_in}
              onChange={(event) => set({ sign_in: event.target.value as Asked["sign_in"] })}
              className="box"
            >
              <option value="password">password</option>
              <option value="token">OAuth token</option>
              <option value="none">none</option>
            </select>
          </span>
        </Row>
        <Row id="daily_limit" words="Most in a day">
          {number("daily_limit")}
        </Row>
        <Row id="warm_up_from" words="Warming up since">
          <span className="flex items-center gap-2">
            <input
              id="warm_up_from"
              type="date"
              value={draft.warm_up_from}
              onChange={(event) => set({ warm_up_from: event.target.value })}
              className="box"
            />
            <span className="text-soft">10 on that day, 5 more each day</span>
          </span>
        </Row>
        <Row id="gap_s" words="Least time between two">
          <span className="flex items-center gap-2">{number("gap_s")} seconds</span>
        </Row>
        <Row id="jitter_s" words="Up to so much more">
          <span className="flex items-center gap-2">{number("jitter_s")} seconds, by chance</span>
        </Row>
      </div>
      <label className="mt-2 block">
        <input
          type="checkbox"
          checked={draft.paused}
          onChange={(event) => set({ paused: event.target.checked })}
          className="mr-1.5"
        />
        Paused: nothing leaves by this mailbox
      </label>
      <p className="mt-2 flex gap-1.5">
        <Button type="submit" look="main" disabled={save.isPending || !draft.address || !draft.smtp_host}>
          Save
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </p>
      <ErrorNote error={save.error} />
    </form>
  );
}

function Row({ id, words, children }: { id: string; words: string; children: ReactNode }) {
  return (
    <>
      <label htmlFor={id}>{words}</label>
      {children}
    </>
  );
}
