import { useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { count } from "../../lib/format";
import { useWhatWorks, type WhatBy } from "../../queries/messages";
import Nav from "./Nav";

type Share = Schemas["Share"];
const BYS: [WhatBy, string][] = [
  ["template", "Template"],
  ["sequence", "Sequence"],
  ["step", "Step"],
  ["service", "Service"],
  ["mailbox", "Mailbox"],
  ["hour", "Hour"],
];
const percent = (share: number) => `${Math.round(share * 100)} %`;

/** What came of the messages that left, told apart by one thing after the other. */
export default function WhatWorks() {
  const [params, change] = useSearchParams();
  const by = (BYS.find(([id]) => id === params.get("by"))?.[0] ?? "template") as WhatBy;
  const query = useWhatWorks(by);
  return (
    <div className="flex h-full">
      <Nav title="What works" />
      <section aria-label="What works" className="min-w-0 flex-1 overflow-y-auto px-5 py-4">
        <div className="flex items-center gap-3">
          <h1 className="text-lg">What works</h1>
          <span className="flex gap-1">
            {BYS.map(([id, words]) => (
              <Button key={id} aria-pressed={id === by} onClick={() => change({ by: id })}>
                {words}
              </Button>
            ))}
          </span>
        </div>
        <p className="text-soft">
          Shares of the messages sent, with the range in which the true share lies (95 %). Nothing invisible
          is put into messages to watch readers.
        </p>
        <ErrorNote error={query.error} />
        {query.data?.groups.length === 0 && (
          <Empty title="Nothing has been sent yet">Put businesses into a sequence to begin.</Empty>
        )}
        {query.data && query.data.groups.length > 0 && <Groups found={query.data} />}
      </section>
    </div>
  );
}

function Groups({ found }: { found: Schemas["WhatWorksResponse"] }) {
  return (
    <table className="mt-3 w-full bg-sheet">
      <thead className="text-left text-soft">
        <tr className="border-b border-line">
          {[
            "",
            "Sent",
            "Arrived",
            "Page opened",
            "Answered",
            "Interested",
            "Won",
            "Better than the rest",
          ].map((head) => (
            <th key={head} scope="col" className="px-2 py-1 font-normal">
              {head || "Messages"}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {found.groups.map((item) => (
          <tr key={item.group} className="border-b border-faint align-top">
            <td className="px-2 py-1 font-medium">{found.names[item.group]}</td>
            <td className="px-2 py-1 tabular-nums">{count(item.sent)}</td>
            {[item.delivered, item.page_opened, item.replied, item.positive, item.won].map((share, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: five columns that never move
              <Cell key={at} share={share} enough={item.enough} />
            ))}
            <td className="px-2 py-1">
              {item.better_than_rest == null ? (
                <span className="text-soft">too few to say</span>
              ) : (
                `${percent(item.better_than_rest)} likely`
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Cell({ share, enough }: { share: Share; enough: boolean }) {
  return (
    <td className="px-2 py-1 tabular-nums">
      {count(share.count)}
      {enough && (
        <span className="block text-soft">
          {percent(share.low)}–{percent(share.high)}
        </span>
      )}
    </td>
  );
}
