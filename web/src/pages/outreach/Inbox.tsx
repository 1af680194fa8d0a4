import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { when } from "../../lib/format";
import { useInbox, useMarkArrived } from "../../queries/messages";
import Conversation from "./Conversation";
import Nav from "./Nav";

type Arrived = Schemas["Arrived"];
const KINDS: Record<string, string> = {
  reply: "",
  refusal: "not interested",
  "opt-out": "wants no more messages",
  bounce: "came back",
  delay: "delayed",
  automatic: "automatic answer",
};

/** What arrived, and beside it all that was said between us and the business. */
export default function Inbox() {
  const [params, change] = useSearchParams();
  const [machines, setMachines] = useState(false);
  const query = useInbox(machines);
  const business = Number(params.get("b") ?? 0);
  return (
    <div className="flex h-full">
      <Nav title="Inbox" />
      <section
        aria-label="Inbox"
        className="w-[380px] shrink-0 overflow-y-auto border-r border-line px-4 py-4"
      >
        <div className="flex items-center gap-2">
          <h1 className="text-lg">Inbox</h1>
          <span className="ml-auto flex gap-1">
            <Button aria-pressed={!machines} onClick={() => setMachines(false)}>
              People
            </Button>
            <Button aria-pressed={machines} onClick={() => setMachines(true)}>
              Bounces
            </Button>
          </span>
        </div>
        <ErrorNote error={query.error} />
        {query.data?.arrived.length === 0 && (
          <Empty title="Nothing has arrived">Your mailboxes are read once a minute.</Empty>
        )}
        <ul className="mt-2">
          {query.data?.arrived.map((item) => (
            <Line
              key={item.id}
              item={item}
              open={item.business_id === business}
              onOpen={() => item.business_id && change({ b: String(item.business_id) })}
            />
          ))}
        </ul>
      </section>
      {business > 0 ? (
        <Conversation key={business} business={business} />
      ) : (
        <Empty title="Choose a message">The whole conversation is shown here.</Empty>
      )}
    </div>
  );
}

function Line({ item, open, onOpen }: { item: Arrived; open: boolean; onOpen: () => void }) {
  const mark = useMarkArrived();
  return (
    <li className={`border-b border-line py-2 ${open ? "bg-leaf-soft" : ""} ${item.done ? "text-soft" : ""}`}>
      <p className="flex items-baseline gap-2 px-1">
        <button
          type="button"
          onClick={onOpen}
          disabled={!item.business_id}
          className="min-w-0 truncate text-left font-semibold hover:underline"
        >
          {item.business || item.address}
        </button>
        <span className="ml-auto shrink-0 text-soft">{when(item.at)}</span>
      </p>
      <p className="line-clamp-2 px-1">{item.text || item.subject}</p>
      <p className="flex items-baseline px-1">
        {KINDS[item.kind] && <span className="text-acorn">{KINDS[item.kind]}</span>}
        {(item.kind === "reply" || item.kind === "refusal") && (
          <Button
            look="quiet"
            className="ml-auto"
            onClick={() => mark.mutate({ number: item.id, done: !item.done })}
          >
            {item.done ? "Mark as open" : "Mark as done"}
          </Button>
        )}
      </p>
      {!item.business_id && (
        <p className="px-1">
          Nobody is known by this address.{" "}
          <Link to={`/businesses?q=${encodeURIComponent(item.address)}`} className="text-leaf-dark underline">
            Search
          </Link>
        </p>
      )}
    </li>
  );
}
