import { useState } from "react";
import { Button } from "../../components/Button";
import { Conflict } from "../../components/Conflict";
import { ErrorNote } from "../../components/ErrorNote";
import { useChangeMessage, useMessage, useReword } from "../../queries/messages";
import Reword from "./Reword";
import Sentences from "./Sentences";

/** One message: what it says and what that rests on; its text can be changed until it leaves. */
export default function MessagePanel({ number, onClose }: { number: number; onClose: () => void }) {
  const query = useMessage(number);
  const save = useChangeMessage();
  const reword = useReword(number);
  const [draft, setDraft] = useState<{ subject: string; text: string; language: string } | null>(null);
  const found = query.data;
  const close = () => {
    setDraft(null);
    save.reset();
  };
  const keep = () => draft && save.mutate({ number, ...draft }, { onSuccess: close });
  const takeTheirs = () => query.refetch().then(close);
  const putBoth = async () => {
    const theirs = (await query.refetch()).data;
    if (draft && theirs) setDraft({ ...draft, text: `${theirs.text}\n\n* * *\n\n${draft.text}` });
    save.reset();
  };
  const open = found && (found.state === "to approve" || found.state === "waiting");
  return (
    <aside
      aria-label="Message"
      className="flex w-[380px] shrink-0 flex-col overflow-y-auto border-l border-line bg-sheet px-4 py-3"
    >
      <p className="flex items-baseline">
        <span className="text-soft">{found?.state}</span>
        <Button look="quiet" className="ml-auto" onClick={onClose}>
          Close
        </Button>
      </p>
      <ErrorNote error={query.error ?? (draft ? null : save.error)} />
      {found && !draft && (
        <>
          <h2 className="text-[15px]">{found.subject}</h2>
          <p className="mb-2 text-soft">
            To {found.person} {found.address}
          </p>
          <Sentences text={found.text} sentences={found.because} />
          {found.remarks.length > 0 && (
            <ul className="mt-3 border-t border-line pt-2 text-acorn">
              {found.remarks.map((remark) => (
                <li key={remark.text}>{remark.text}</li>
              ))}
            </ul>
          )}
          {found.problem && <p className="mt-2 text-alarm">{found.problem}</p>}
          {open && (
            <p className="mt-3">
              <Button onClick={() => setDraft({ subject: found.subject, text: found.text, language: "" })}>
                Edit
              </Button>
            </p>
          )}
        </>
      )}
      {draft && found && (
        <form
          className="flex flex-1 flex-col gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            keep();
          }}
        >
          <input
            aria-label="Subject"
            value={draft.subject}
            onChange={(event) => setDraft({ ...draft, subject: event.target.value })}
            className="box"
          />
          <textarea
            aria-label="Text"
            value={draft.text}
            onChange={(event) => setDraft({ ...draft, text: event.target.value })}
            className="min-h-80 flex-1 box"
          />
          <Conflict error={save.error} onMine={keep} onTheirs={takeTheirs} onBoth={putBoth} />
          <p className="flex gap-1.5">
            <Button type="submit" look="main" disabled={save.isPending}>
              Save
            </Button>
            <Button onClick={close}>Cancel</Button>
          </p>
          {found.helper && (
            <Reword
              reword={reword}
              helper={found.helper}
              language={found.language}
              draft={{ subject: draft.subject, text: draft.text }}
              onUse={setDraft}
            />
          )}
        </form>
      )}
    </aside>
  );
}
