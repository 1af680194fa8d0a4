import { useState } from "react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { Phone } from "../../components/Phone";
import { day, hour } from "../../lib/format";
import { author } from "../../lib/session";
import { type Appointment, useAppointments, useCalendarFeed, useSetFeed } from "../../queries/appointments";
import Nav from "./Nav";

/** Everybody's appointments from today on, and the address at which a calendar program reads them. */
export default function CalendarPage() {
  const query = useAppointments(0);
  const found = query.data ?? [];
  const days = new Map<string, Appointment[]>();
  for (const item of found) days.set(day(item.at), [...(days.get(day(item.at)) ?? []), item]);
  return (
    <div className="flex h-full">
      <Nav title="Calendar" />
      <section aria-label="Calendar" className="min-w-0 flex-1 overflow-y-auto px-5 py-4">
        <h1 className="text-lg">Calendar</h1>
        <ErrorNote error={query.error} />
        {query.data && found.length === 0 && (
          <Empty title="No appointment">
            Open a business of a shortlist, and add one under Appointments.
          </Empty>
        )}
        {[...days].map(([title, items]) => (
          <section key={title} aria-label={title} className="mt-3 max-w-2xl">
            <h2 className="border-b border-line text-[13px]">{title}</h2>
            <ul>
              {items.map((item) => (
                <li key={item.id} className="flex gap-3 border-b border-faint py-1">
                  <span className="w-20 font-semibold tabular-nums">{hour(item.at)}</span>
                  <Link to={`/businesses/${item.business_id}`} className="w-56 truncate hover:underline">
                    {item.business}
                  </Link>
                  <span className="w-36 text-soft">
                    <Phone number={item.phone} />
                  </span>
                  <span className="min-w-0 flex-1">{item.note}</span>
                  <span className="text-soft">{item.by}</span>
                </li>
              ))}
            </ul>
          </section>
        ))}
      </section>
      <Feed />
    </div>
  );
}

function Feed() {
  const [mine, setMine] = useState(false);
  const by = mine ? author() : "";
  const feed = useCalendarFeed(by);
  const set = useSetFeed();
  const [copied, setCopied] = useState("");
  const address = feed.data?.address ?? "";
  return (
    <aside
      aria-label="Calendar feed"
      className="w-[300px] shrink-0 overflow-y-auto border-l border-line bg-sheet px-4 py-4"
    >
      <h2 className="text-[15px]">In your own calendar</h2>
      <p className="mt-1 text-soft">
        A calendar program that subscribes to this address shows appointments and follow-ups. It reads them
        again each hour.
      </p>
      {author() && (
        <label className="mt-2 flex items-center gap-1.5">
          <input type="checkbox" checked={mine} onChange={(event) => setMine(event.target.checked)} />
          Only those of {author()}
        </label>
      )}
      {address && <p className="mt-2 border border-line bg-white px-2 py-1 text-xs break-all">{address}</p>}
      <span className="mt-2 flex flex-wrap gap-1.5">
        {address && (
          <Button
            look="main"
            onClick={() => navigator.clipboard.writeText(address).then(() => setCopied(address))}
          >
            {copied === address ? "Copied" : "Copy the address"}
          </Button>
        )}
        <Button look={address ? "plain" : "main"} onClick={() => set.mutate({ by, open: true })}>
          {address ? "New address" : "Create an address"}
        </Button>
        {address && (
          <Button look="quiet" onClick={() => set.mutate({ by, open: false })}>
            Close it
          </Button>
        )}
      </span>
      {address && (
        <p className="mt-2 text-soft">
          Anybody with the address can read it. A new address closes the old one.
          {!feed.data?.public && " This one opens on this machine alone."}
        </p>
      )}
      <ErrorNote error={feed.error ?? set.error} />
    </aside>
  );
}
