import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { useSaveWebhook, type Webhook, type WebhookRequest } from "../../queries/webhooks";

interface Props {
  webhook?: Webhook;
  events: { id: string; title: string }[];
  onDone: (secret?: string) => void;
}

/** A webhook: its name, its address, its events. */
export default function WebhookForm({ webhook, events, onDone }: Props) {
  const save = useSaveWebhook();
  const [draft, setDraft] = useState<WebhookRequest>({
    id: webhook?.id ?? 0,
    name: webhook?.name ?? "",
    url: webhook?.url ?? "",
    events: webhook?.events ?? events.map((item) => item.id),
    paused: webhook?.paused ?? false,
  });
  const set = (change: Partial<WebhookRequest>) => setDraft((now) => ({ ...now, ...change }));
  const toggle = (id: string) =>
    set({
      events: draft.events.includes(id) ? draft.events.filter((item) => item !== id) : [...draft.events, id],
    });
  return (
    <form
      aria-label="Webhook"
      className="mt-3 max-w-2xl space-y-2 border border-line bg-sheet p-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(draft, { onSuccess: (answer) => onDone(answer.secret) });
      }}
    >
      <label className="block">
        <span className="block text-soft">Name</span>
        <input
          value={draft.name}
          placeholder="Our CRM"
          onChange={(event) => set({ name: event.target.value })}
          className="w-full box"
        />
      </label>
      <label className="block">
        <span className="block text-soft">Address</span>
        <input
          value={draft.url}
          placeholder="https://crm.agency.example/hooks"
          onChange={(event) => set({ url: event.target.value })}
          className="w-full box"
        />
      </label>
      <fieldset>
        <legend className="text-soft">Notify when</legend>
        {events.map((item) => (
          <label key={item.id} className="flex items-center gap-1.5 py-0.5">
            <input
              type="checkbox"
              checked={draft.events.includes(item.id)}
              onChange={() => toggle(item.id)}
            />
            {item.title}
            <code className="text-xs text-soft">{item.id}</code>
          </label>
        ))}
      </fieldset>
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={draft.paused}
          onChange={(event) => set({ paused: event.target.checked })}
        />
        Paused: nothing is sent
      </label>
      <ErrorNote error={save.error} />
      <p className="flex gap-1.5">
        <Button look="main" type="submit" disabled={save.isPending || draft.events.length === 0}>
          Save
        </Button>
        <Button onClick={() => onDone()}>Cancel</Button>
      </p>
    </form>
  );
}
