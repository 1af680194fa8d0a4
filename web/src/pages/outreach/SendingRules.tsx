import { useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { Conflict } from "../../components/Conflict";
import { useSaveSendingRules, useSendingRules } from "../../queries/messages";

type Rules = Schemas["RulesModel"];
const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

const clock = (minutes: number) =>
  `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
const minutes = (text: string) => Number(text.slice(0, 2)) * 60 + Number(text.slice(3, 5));

/** What holds for all mailboxes: hours and days of who receives, limits, approval by hand, who writes. */
export default function SendingRules() {
  const query = useSendingRules();
  const kept = query.data;
  const save = useSaveSendingRules();
  const [draft, setDraft] = useState<Rules | null>(null);
  useEffect(() => {
    if (kept) setDraft((now) => now ?? kept);
  }, [kept]);
  if (!draft) return null;
  const days = draft.days ?? [];
  const set = (change: Partial<Rules>) => setDraft({ ...draft, ...change });
  const keep = () => save.mutate({ ...draft, paused: kept?.paused ?? false });
  const takeTheirs = async () => {
    setDraft((await query.refetch()).data ?? draft);
    save.reset();
  };
  return (
    <form
      aria-label="Rules for sending"
      className="mt-6 max-w-4xl"
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
    >
      <h2 className="border-b border-line text-[15px]">Rules for sending</h2>
      <div className="mt-2 grid grid-cols-[190px_1fr] items-center gap-x-3 gap-y-2">
        <span>Hours where they are</span>
        <span className="flex items-center gap-2">
          <input
            type="time"
            aria-label="From"
            value={clock(draft.opens ?? 540)}
            onChange={(event) => set({ opens: minutes(event.target.value) })}
            className="box"
          />
          to
          <input
            type="time"
            aria-label="Until"
            value={clock(Math.min(draft.closes ?? 1020, 1439))}
            onChange={(event) => set({ closes: minutes(event.target.value) })}
            className="box"
          />
        </span>
        <span>Days</span>
        <span className="flex items-center gap-3">
          {DAYS.map((name, index) => (
            <label key={name} className="whitespace-nowrap">
              <input
                type="checkbox"
                checked={days.includes(index)}
                onChange={(event) =>
                  set({
                    days: event.target.checked
                      ? [...days, index].sort()
                      : days.filter((day) => day !== index),
                  })
                }
                className="mr-1"
              />
              {name}
            </label>
          ))}
          <label className="ml-3 whitespace-nowrap">
            <input
              type="checkbox"
              checked={draft.on_holidays}
              onChange={(event) => set({ on_holidays: event.target.checked })}
              className="mr-1"
            />
            also on public holidays
          </label>
        </span>
        <label htmlFor="domain-cap">Most in a day to one domain</label>
        <input
          id="domain-cap"
          type="number"
          min={1}
          max={1000}
          value={draft.domain_cap}
          onChange={(event) => set({ domain_cap: Number(event.target.value) || 1 })}
          className="w-24 box"
        />
        <label htmlFor="by-hand">Approve by hand</label>
        <span className="flex items-center gap-2">
          the first
          <input
            id="by-hand"
            type="number"
            min={-1}
            value={draft.by_hand}
            onChange={(event) => set({ by_hand: Number(event.target.value) })}
            className="w-24 box"
          />
          <span className="text-soft">messages; −1 for all of them</span>
        </span>
        <label htmlFor="post-address">Your postal address</label>
        <span className="flex items-center gap-2">
          <input
            id="post-address"
            value={draft.post_address}
            onChange={(event) => set({ post_address: event.target.value })}
            className="w-96 box"
          />
          <span className="text-soft">below every message; many countries require it</span>
        </span>
      </div>
      <p className="mt-2 flex items-center gap-2">
        <Button type="submit" look="main" disabled={save.isPending}>
          Save
        </Button>
        {save.isSuccess && <output className="text-soft">Saved.</output>}
      </p>
      <Conflict error={save.error} onMine={keep} onTheirs={takeTheirs} />
    </form>
  );
}
