import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { when } from "../../lib/format";
import { marks } from "../../lib/marks";
import { useSetSchedule } from "../../queries/schedules";
import Trial from "../agency/Trial";

type Schedule = Schemas["ScheduleResponse"];
const EVERY = [
  ["once", "once"],
  ["daily", "every day"],
  ["weekly", "every week"],
  ["monthly", "every month"],
] as const;

function tomorrow(): string {
  const at = new Date(Date.now() + 86_400_000);
  const two = (value: number) => String(value).padStart(2, "0");
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}T06:00`;
}

/** When a sweep runs by itself, and who is notified of how it ended. */
export default function ScheduleBox({ sweep, kept }: { sweep: number; kept: Schedule | undefined }) {
  const set = useSetSchedule(sweep);
  const [draft, setDraft] = useState({
    every: kept?.every ?? "weekly",
    at: kept?.at.slice(0, 16) ?? tomorrow(),
    email: kept?.email ?? "",
    webhook: kept?.webhook ?? "",
  });
  const box = (name: "email" | "webhook", label: string) => (
    <label className="flex items-center gap-2">
      <span className="w-20 text-soft">{label}</span>
      <input
        value={draft[name]}
        onChange={(event) => setDraft({ ...draft, [name]: event.target.value })}
        placeholder="nobody"
        className={`w-52 box`}
      />
    </label>
  );
  return (
    <details>
      <summary className="cursor-pointer whitespace-nowrap text-leaf-dark">
        {kept?.next[0] ? `next ${when(kept.next[0])}` : "manual"}
      </summary>
      <div className="mt-1 space-y-1">
        <span className="flex gap-1.5">
          <select
            aria-label="How often"
            value={draft.every}
            onChange={(event) => setDraft({ ...draft, every: event.target.value })}
            className="box py-0.5"
          >
            {EVERY.map(([id, label]) => (
              <option key={id} value={id}>
                {label}
              </option>
            ))}
          </select>
          <input
            type="datetime-local"
            aria-label="First time"
            {...marks(set.error, "at")}
            value={draft.at}
            onChange={(event) => setDraft({ ...draft, at: event.target.value })}
            className="box py-0.5"
          />
        </span>
        {box("email", "E-mail to")}
        {box("webhook", "Webhook")}
        {draft.webhook && <Trial what="webhook" name="webhook" address={draft.webhook} />}
        <span className="flex gap-2">
          <Button disabled={set.isPending} onClick={() => set.mutate(draft)}>
            Schedule
          </Button>
          {kept && (
            <Button look="quiet" onClick={() => set.mutate(null)}>
              No longer
            </Button>
          )}
        </span>
        <ErrorNote error={set.error} />
      </div>
    </details>
  );
}
