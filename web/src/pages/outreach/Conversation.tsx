import { useState } from "react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { when } from "../../lib/format";
import { author } from "../../lib/session";
import { useAnswer, useConversation } from "../../queries/messages";

/** Everything between us and a business, oldest first, with a box to answer. */
export default function Conversation({ business }: { business: number }) {
  const query = useConversation(business);
  const answer = useAnswer(business);
  const [text, setText] = useState("");
  const found = query.data;
  return (
    <section aria-label="Conversation" className="flex min-w-0 flex-1 flex-col overflow-y-auto px-5 py-4">
      <ErrorNote error={query.error} />
      {found && (
        <>
          <p className="flex items-baseline gap-3">
            <h2 className="text-[16px]">{found.business}</h2>
            <Link to={`/businesses/${business}`} className="text-leaf-dark hover:underline">
              Everything about it
            </Link>
            <Link to={`/outreach/call?b=${business}`} className="text-leaf-dark hover:underline">
              Call sheet
            </Link>
          </p>
          {found.turns.length === 0 && <Empty title="Nothing yet">Nobody has written, on either side.</Empty>}
          <ol className="mt-2 max-w-2xl">
            {found.turns.map((turn) => (
              <li
                key={`${turn.ours}${turn.number}`}
                className={`mt-3 border-l-[3px] px-3 py-1.5 ${turn.ours ? "border-line" : "border-acorn bg-sheet"}`}
              >
                <p className="flex items-baseline gap-2 text-soft">
                  <strong className="text-ink">{turn.who}</strong>
                  <span>{when(turn.at)}</span>
                  <span>{turn.ours ? turn.state : turn.kind === "reply" ? "" : turn.kind}</span>
                </p>
                <p className="font-medium">{turn.subject}</p>
                <p className="whitespace-pre-wrap">{turn.text}</p>
                {turn.attachments.length > 0 && (
                  <p className="text-soft">Attached, not opened: {turn.attachments.join(", ")}</p>
                )}
              </li>
            ))}
          </ol>
          {found.answer_to > 0 && (
            <form
              className="mt-4 max-w-2xl border-t border-line pt-3"
              onSubmit={(event) => {
                event.preventDefault();
                answer.mutate(
                  { answers: found.answer_to, text, by: author() },
                  { onSuccess: () => setText("") },
                );
              }}
            >
              <label htmlFor="answer">Answer to {found.address}</label>
              <textarea
                id="answer"
                rows={5}
                value={text}
                onChange={(event) => setText(event.target.value)}
                className="mt-1 w-full box"
              />
              <Button type="submit" look="main" disabled={!text.trim() || answer.isPending}>
                Send
              </Button>
              <ErrorNote error={answer.error} />
            </form>
          )}
        </>
      )}
    </section>
  );
}
