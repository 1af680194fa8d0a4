import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { count, when } from "../../lib/format";
import { useMarkReply, useReplies } from "../../queries/outreach";
import Nav from "./Nav";

/** What owners wrote back from their pages. */
export default function Replies() {
  const query = useReplies();
  const replies = query.data?.replies ?? [];
  const sure = replies.filter((reply) => !reply.suspect);
  const doubtful = replies.filter((reply) => reply.suspect);
  return (
    <div className="flex h-full">
      <Nav title="Replies" />
      <section aria-label="Replies" className="min-w-0 flex-1 overflow-y-auto px-5 py-4">
        <h1 className="text-lg">Replies</h1>
        <ErrorNote error={query.error} />
        {query.data && sure.length === 0 && (
          <Empty title="Nobody has written yet">What owners write on their pages arrives here.</Empty>
        )}
        <ul className="max-w-3xl">
          {sure.map((reply) => (
            <Line key={reply.id} reply={reply} />
          ))}
        </ul>
        {query.data && query.data.total > replies.length && (
          <p className="mt-2 text-soft">
            The newest {count(replies.length)} of {count(query.data.total)} are shown, what is to be answered
            first.
          </p>
        )}
        {doubtful.length > 0 && (
          <details className="mt-4 max-w-3xl">
            <summary className="cursor-pointer text-leaf-dark">Possible spam: {doubtful.length}</summary>
            <ul>
              {doubtful.map((reply) => (
                <Line key={reply.id} reply={reply} />
              ))}
            </ul>
          </details>
        )}
      </section>
    </div>
  );
}

function Line({ reply }: { reply: Schemas["Reply"] }) {
  const mark = useMarkReply();
  return (
    <li className={`border-b border-line py-2.5 ${reply.done ? "text-soft" : ""}`}>
      <p className="flex items-baseline gap-2">
        <Link
          className="font-serif text-[15px] font-semibold hover:underline"
          to={`/outreach/page/${reply.business_id}`}
        >
          {reply.business}
        </Link>
        <span className="text-soft">{when(reply.at)}</span>
        <Link className="text-leaf-dark hover:underline" to={`/businesses/${reply.business_id}`}>
          Everything about it
        </Link>
        <Button
          look="quiet"
          className="ml-auto"
          disabled={mark.isPending}
          onClick={() => mark.mutate({ reply_id: reply.id, done: !reply.done })}
        >
          {reply.done ? "Not answered after all" : "Answered"}
        </Button>
      </p>
      <p className="mt-0.5 whitespace-pre-wrap">{reply.text}</p>
      <p className="mt-0.5">
        {reply.name || "no name given"}, <strong className="font-semibold">{reply.reach}</strong>
      </p>
      {reply.suspect && <p className="text-soft">Possible spam: {reply.suspect}.</p>}
      <ErrorNote error={mark.error} />
    </li>
  );
}
