import { useEffect, useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { type Gateway, useSaveGateway, useTestText, useTextGateway } from "../../queries/texts";
import Registers from "./Registers";

const BLANK: Gateway = {
  address: "",
  body: '{"to": "{to}", "text": "{text}", "from": "{sender}"}',
  key: "",
  key_name: "Authorization",
  key_prefix: "Bearer ",
  sender: "",
  number: "",
  error: "",
  inbox: "",
  incoming: "",
  from_: "from",
  text: "text",
  id: "id",
  daily_limit: 50,
  countries: [],
};

const FIELDS: [keyof Gateway, string, string][] = [
  ["address", "Address", "where a text is sent to"],
  ["body", "Body", "JSON or a form; {to} {text} {sender} {reference}; empty for a GET"],
  ["key_name", "Header of the key", ""],
  ["key_prefix", "Before the key", "“Bearer ” for many"],
  ["sender", "Sender", "your number or name there"],
  ["number", "Message number", "its path in the answer, such as message.id"],
  ["error", "Error", "path to what stands only in refusals"],
];
const INCOMING: [keyof Gateway, string, string][] = [
  ["inbox", "Ask for them at", "an address with {since}; empty if the gateway tells us"],
  ["incoming", "List", "path to the texts, such as items"],
  ["from_", "Name of the sender", "in one of them"],
  ["text", "Name of the text", ""],
  ["id", "Name of its number", ""],
];

/** The gateway that text messages go by, with a text to oneself, and the registers of numbers that must not be called. */
export default function TextGateway() {
  const query = useTextGateway();
  const save = useSaveGateway();
  const [draft, setDraft] = useState<Gateway>(BLANK);
  const kept = query.data;
  useEffect(() => {
    if (kept?.gateway) setDraft({ ...kept.gateway, key: "" });
  }, [kept?.gateway]);
  const set = (change: Partial<Gateway>) => setDraft((now) => ({ ...now, ...change }));
  const row = ([name, label, hint]: [keyof Gateway, string, string]) => (
    <label key={name} className="contents">
      <span>{label}</span>
      <span className="flex items-center gap-2">
        <input
          aria-label={label}
          value={String(draft[name] ?? "")}
          onChange={(event) => set({ [name]: event.target.value })}
          className={`box ${name === "address" || name === "body" || name === "inbox" ? "w-96" : "w-48"}`}
        />
        <span className="text-soft">{hint}</span>
      </span>
    </label>
  );
  return (
    <section aria-label="Text messages" className="mt-8 max-w-4xl">
      <h2 className="border-b border-line text-[15px]">Text messages</h2>
      <p className="mt-1 text-soft">
        Text steps go by your gateway, to mobiles alone. Without one, they are tasks for a person.
      </p>
      {kept?.problem && <p className="mt-1 text-alarm">{kept.problem}</p>}
      <form
        className="mt-2 grid grid-cols-[190px_1fr] items-center gap-x-3 gap-y-2"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(draft, { onSuccess: () => set({ key: "" }) });
        }}
      >
        {FIELDS.map(row)}
        <label htmlFor="gateway-key">Key</label>
        <span className="flex items-center gap-2">
          <input
            id="gateway-key"
            type="password"
            autoComplete="off"
            value={draft.key}
            onChange={(event) => set({ key: event.target.value })}
            className="w-48 box"
          />
          <span className="text-soft">
            {kept?.key_kept ? "kept, sealed; empty leaves it" : "is kept sealed"}
          </span>
        </span>
        <label htmlFor="text-limit">Most in a day</label>
        <input
          id="text-limit"
          type="number"
          min={1}
          value={draft.daily_limit}
          onChange={(event) => set({ daily_limit: Number(event.target.value) || 1 })}
          className="w-24 box"
        />
        <label htmlFor="text-countries">Countries</label>
        <span className="flex items-center gap-2">
          <input
            id="text-countries"
            value={(draft.countries ?? []).join(", ")}
            onChange={(event) =>
              set({ countries: event.target.value.split(/,\s*/).map((code) => code.trim()) })
            }
            placeholder="AU, NZ"
            className="w-48 box"
          />
          <span className="text-soft">whose rules for texts to businesses you have checked</span>
        </span>
        <h3 className="col-span-2 mt-2">Incoming texts</h3>
        {INCOMING.map(row)}
        {kept?.webhook && (
          <>
            <span>Or have them sent to</span>
            <span className="text-xs break-all">
              {kept.webhook}
              {!kept.public && <span className="text-soft"> (opens on this machine alone)</span>}
            </span>
          </>
        )}
        <span />
        <span className="flex items-center gap-2">
          <Button type="submit" look="main" disabled={save.isPending || !draft.address}>
            Save
          </Button>
          {kept?.gateway && (
            <Button look="quiet" onClick={() => save.mutate(null, { onSuccess: () => setDraft(BLANK) })}>
              Delete
            </Button>
          )}
          {save.isSuccess && <output className="text-soft">Saved.</output>}
        </span>
      </form>
      <ErrorNote error={query.error ?? save.error} />
      {kept?.gateway && <TestText />}
      <Registers registers={kept?.registers ?? []} />
    </section>
  );
}

function TestText() {
  const test = useTestText();
  const [to, setTo] = useState("");
  return (
    <form
      className="mt-3 flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        test.mutate(to);
      }}
    >
      <label htmlFor="test-text">Send a text to yourself</label>
      <input
        id="test-text"
        type="tel"
        value={to}
        onChange={(event) => setTo(event.target.value)}
        className="w-48 box"
      />
      <Button type="submit" disabled={!to || test.isPending}>
        Send
      </Button>
      {test.data && (
        <output className={test.data.problem ? "text-alarm" : "text-soft"}>
          {test.data.problem || "The gateway has taken it."}
        </output>
      )}
      <ErrorNote error={test.error} />
    </form>
  );
}
