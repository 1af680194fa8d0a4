import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { Loading } from "../../components/Loading";
import ShownOnce from "../../components/ShownOnce";
import { count, when } from "../../lib/format";
import {
  useDeleteWebhook,
  useRenewSecret,
  useSendAgain,
  useTestWebhook,
  useWebhooks,
  type Webhook,
  type WebhookDelivery,
} from "../../queries/webhooks";
import Nav from "./Nav";
import WebhookForm from "./WebhookForm";

/** Other programs that are notified of what happens, and what was sent to them. */
export default function Webhooks() {
  const query = useWebhooks();
  const [form, setForm] = useState<Webhook | "new">();
  const [secret, setSecret] = useState("");
  const found = query.data;
  return (
    <div className="flex h-full">
      <Nav title="Webhooks" />
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard */}
      <section aria-label="Webhooks" tabIndex={0} className="min-w-0 flex-1 overflow-y-auto px-6 py-4">
        <h1 className="text-lg">Webhooks</h1>
        <p className="max-w-2xl text-soft">
          Other programs are notified when something happens here. Each delivery is signed; what fails is
          tried again for three days.
        </p>
        <ErrorNote error={query.error} />
        {query.isPending && <Loading />}
        {secret && (
          <ShownOnce
            words="The secret that deliveries are signed with. It is shown only now."
            text={secret}
            onDone={() => setSecret("")}
          />
        )}
        {found &&
          (form ? (
            <WebhookForm
              webhook={form === "new" ? undefined : form}
              events={found.events}
              onDone={(shown) => {
                setForm(undefined);
                if (shown) setSecret(shown);
              }}
            />
          ) : (
            <>
              <ul className="mt-3 max-w-4xl">
                {found.webhooks.map((hook) => (
                  <Hook key={hook.id} hook={hook} onEdit={() => setForm(hook)} onSecret={setSecret} />
                ))}
              </ul>
              <Button
                look={found.webhooks.length ? "plain" : "main"}
                className="mt-3"
                onClick={() => setForm("new")}
              >
                Add a webhook
              </Button>
              {found.deliveries.length > 0 && <Log deliveries={found.deliveries} events={found.events} />}
            </>
          ))}
      </section>
    </div>
  );
}

interface HookProps {
  hook: Webhook;
  onEdit: () => void;
  onSecret: (secret: string) => void;
}

function Hook({ hook, onEdit, onSecret }: HookProps) {
  const test = useTestWebhook();
  const renew = useRenewSecret();
  const drop = useDeleteWebhook();
  const [sure, setSure] = useState<"secret" | "delete">();
  return (
    <li className="border-t border-line py-2">
      <p className="flex flex-wrap items-baseline gap-2">
        <span className="font-medium">{hook.name}</span>
        <span className="min-w-0 truncate text-soft">{hook.url}</span>
        {hook.paused && <span className="text-alarm">paused</span>}
      </p>
      <p className="text-soft">
        {count(hook.events.length)} {hook.events.length === 1 ? "event" : "events"}
        {hook.problem && <span className="text-alarm"> · last time: {hook.problem}</span>}
      </p>
      <p className="mt-1 flex flex-wrap gap-1.5">
        <Button disabled={test.isPending || hook.paused} onClick={() => test.mutate(hook.id)}>
          {test.isPending ? "Sending …" : "Send a test"}
        </Button>
        <Button onClick={onEdit}>Edit</Button>
        <Button
          look="quiet"
          onClick={() =>
            sure === "secret"
              ? renew.mutate(hook.id, {
                  onSuccess: (answer) => {
                    onSecret(answer.secret ?? "");
                    setSure(undefined);
                  },
                })
              : setSure("secret")
          }
        >
          {sure === "secret" ? "Replace it: the old one ends at once" : "New secret"}
        </Button>
        <Button look="quiet" onClick={() => (sure === "delete" ? drop.mutate(hook.id) : setSure("delete"))}>
          {sure === "delete" ? "Delete it with what is on its way" : "Delete"}
        </Button>
      </p>
      <ErrorNote error={test.error ?? renew.error ?? drop.error} />
    </li>
  );
}

interface LogProps {
  deliveries: WebhookDelivery[];
  events: { id: string; title: string }[];
}

function Log({ deliveries, events }: LogProps) {
  const again = useSendAgain();
  const title = (id: string) => events.find((item) => item.id === id)?.title ?? "A test";
  return (
    <>
      <h2 className="mt-5 text-[15px]">Deliveries</h2>
      <ErrorNote error={again.error} />
      <table className="mt-1 w-full max-w-4xl">
        <thead className="text-left text-soft">
          <tr>
            <th className="font-normal">When</th>
            <th className="font-normal">Event</th>
            <th className="font-normal">Webhook</th>
            <th className="font-normal">Result</th>
            <th>
              <span className="sr-only">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {deliveries.map((item) => (
            <tr key={item.id} className="border-t border-line align-top">
              <td className="py-1 pr-3 whitespace-nowrap">{when(item.at)}</td>
              <td className="py-1 pr-3">{title(item.event)}</td>
              <td className="py-1 pr-3">{item.webhook}</td>
              <td className={`py-1 pr-3 ${item.problem ? "text-alarm" : "text-soft"}`}>
                {item.sent_at
                  ? "arrived"
                  : item.problem
                    ? `${item.problem}; ${item.next_at ? `again ${when(item.next_at)}` : "given up"}`
                    : "on its way"}
              </td>
              <td className="py-1 text-right">
                {!item.next_at && (
                  <Button look="quiet" disabled={again.isPending} onClick={() => again.mutate(item.id)}>
                    Send again
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
