import { XMarkIcon } from "@heroicons/react/16/solid";
import { useState } from "react";
import type { Business } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { dated, when } from "../../lib/format";
import { author } from "../../lib/session";
import { useAction } from "../../queries/desk";
import { useActivity, useAddActivity, useDropNote } from "../../queries/shortlists";

/** What the agency wrote down about it and did about it, on whatever list, and its tags. */
export default function Notes({ business }: { business: Business }) {
  const steps = useActivity(business.id).data ?? [];
  const add = useAddActivity(business.id);
  const drop = useDropNote(business.id);
  const action = useAction();
  const [text, setText] = useState("");
  const keep = () => {
    if (text.trim()) add.mutate({ text, by: author() }, { onSuccess: () => setText("") });
  };
  return (
    <section aria-label="Notes">
      <h3 className="mt-5 mb-1 border-b border-line pb-0.5">Notes</h3>
      {business.tags.length > 0 && (
        <ul aria-label="Tags" className="mb-1 flex flex-wrap gap-1">
          {business.tags.map((tag) => (
            <li key={tag} className="flex items-center rounded-[3px] bg-leaf-soft pl-1.5 text-leaf-dark">
              {tag}
              <button
                type="button"
                aria-label={`Remove the tag ${tag}`}
                onClick={() => action.mutate({ kind: "untag", word: tag, chosen: { ids: [business.id] } })}
                className="p-0.5 hover:text-alarm"
              >
                <XMarkIcon className="size-3" />
              </button>
            </li>
          ))}
        </ul>
      )}
      <textarea
        data-note
        value={text}
        rows={2}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) keep();
          if (event.key === "Escape") event.currentTarget.blur();
        }}
        placeholder="Add a note (Ctrl+Enter saves it)"
        aria-label="A note on it"
        className="w-full rounded-[3px] border border-line bg-white px-2 py-1 placeholder:text-soft"
      />
      {text.trim() && (
        <Button disabled={add.isPending} onClick={keep}>
          Save note
        </Button>
      )}
      <ErrorNote error={add.error ?? drop.error ?? action.error} />
      <ul>
        {steps.map((step) => (
          <li key={step.id} className="flex gap-2 border-b border-faint py-1">
            <span className="min-w-0 flex-1 whitespace-pre-wrap">
              {dated(step.text)}
              <span className="block text-xs text-soft">
                {when(step.at)}
                {step.by && `, ${step.by}`}
              </span>
            </span>
            {step.kind === "note" && (
              <button
                type="button"
                aria-label="Delete this note"
                onClick={() => drop.mutate(step.id)}
                className="p-0.5 text-soft hover:text-alarm"
              >
                <XMarkIcon className="size-3" />
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
