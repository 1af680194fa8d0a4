import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import LanguageSelect from "../../components/LanguageSelect";
import { count, day } from "../../lib/format";
import { author } from "../../lib/session";
import { useServices } from "../../queries/catalogue";
import {
  type Template,
  useDropTemplate,
  useSaveTemplate,
  useTemplateFit,
  useTemplatePreview,
  useTemplateVersions,
} from "../../queries/messages";
import { useShortlists } from "../../queries/shortlists";
import Sentences from "./Sentences";

type Asked = Schemas["TemplateRequest"];

interface Props {
  start: Template;
  slots: Schemas["Slot"][];
  onSaved: (saved: Template) => void;
}

/** A template's text with the facts it can ask for, and beside it what the businesses of a list would get. */
export default function TemplateEditor({ start, slots, onSaved }: Props) {
  const [draft, setDraft] = useState<Asked>({ ...start.template, by: author() });
  const services = useServices().data ?? [];
  const versions = useTemplateVersions(start.template.id).data ?? [];
  const save = useSaveTemplate();
  const drop = useDropTemplate();
  const box = useRef<HTMLTextAreaElement>(null);
  const set = (change: Partial<Asked>) => setDraft((now) => ({ ...now, ...change }));
  const insert = (name: string) => {
    const at = box.current?.selectionStart ?? draft.text.length;
    set({ text: `${draft.text.slice(0, at)}{{ ${name} }}${draft.text.slice(at)}` });
    box.current?.focus();
  };
  const keep = (asked: Asked) => save.mutate(asked, { onSuccess: onSaved });
  return (
    <>
      <form
        aria-label="Template"
        className="flex min-w-0 flex-1 flex-col gap-2 overflow-y-auto px-4 py-4"
        onSubmit={(event) => {
          event.preventDefault();
          keep(draft);
        }}
      >
        <span className="flex gap-2">
          <input
            aria-label="Name"
            value={draft.name}
            placeholder="Name of the template"
            onChange={(event) => set({ name: event.target.value })}
            className="min-w-0 flex-1 box"
          />
          <select
            aria-label="Service"
            value={draft.service}
            onChange={(event) => set({ service: event.target.value })}
            className="w-40 box"
          >
            <option value="">any service</option>
            {services.map((item) => (
              <option key={item.id} value={item.id}>
                {item.title}
              </option>
            ))}
          </select>
          <input
            aria-label="Variant"
            title="A letter, where several are tried against one another; What works compares them"
            value={draft.variant}
            placeholder="A, B …"
            maxLength={20}
            onChange={(event) => set({ variant: event.target.value })}
            className="w-16 box"
          />
          <LanguageSelect
            label="Written in"
            value={draft.language}
            onChange={(language) => set({ language })}
            className="w-28"
          />
        </span>
        {draft.kind === "email" && (
          <input
            aria-label="Subject"
            value={draft.subject}
            placeholder="Subject"
            onChange={(event) => set({ subject: event.target.value })}
            className="box"
          />
        )}
        <textarea
          ref={box}
          aria-label="Text"
          value={draft.text}
          onChange={(event) => set({ text: event.target.value })}
          className="min-h-64 flex-1 box font-mono text-[13px]"
        />
        <p className="flex flex-wrap gap-1">
          {slots.map((slot) => (
            <button
              key={slot.name}
              type="button"
              title={slot.meaning}
              onClick={() => insert(slot.name)}
              className="rounded-[3px] border border-line bg-sheet px-1 text-[13px] hover:border-leaf"
            >
              {slot.name.replaceAll("_", " ")}
            </button>
          ))}
        </p>
        <p className="text-soft">
          Put {"{% if page %} … {% endif %}"} around what is to be left out where a fact is not known.
        </p>
        <span className="flex items-center gap-1.5">
          <Button type="submit" look="main" disabled={save.isPending || !draft.name.trim()}>
            Save
          </Button>
          {start.template.id && (
            <>
              <Button onClick={() => keep({ ...draft, id: "", name: `${draft.name} (copy)` })}>
                Save as a copy
              </Button>
              <Button look="quiet" onClick={() => drop.mutate({ id: start.template.id, by: author() })}>
                Delete
              </Button>
            </>
          )}
          {versions.length > 1 && (
            <select
              aria-label="Versions"
              value={start.version}
              onChange={(event) => {
                const found = versions.find((item) => item.version === Number(event.target.value));
                if (found) set({ text: found.template.text, subject: found.template.subject });
              }}
              className="ml-auto box"
            >
              {versions.map((item) => (
                <option key={item.version} value={item.version}>
                  {item.version === 0 ? "as shipped" : `version ${item.version}, ${day(item.at)}`}
                </option>
              ))}
            </select>
          )}
        </span>
        <ErrorNote error={save.error ?? drop.error} />
      </form>
      <Preview draft={draft} />
    </>
  );
}

/** How many of a list get the template, and what one of them after the other would get. */
function Preview({ draft }: { draft: Asked }) {
  const lists = useShortlists().data ?? [];
  const [shortlist, setShortlist] = useState(0);
  const list = shortlist || (lists[0]?.id ?? 0);
  const [at, setAt] = useState(0);
  const settled = useSettled({ ...draft, name: draft.name || "new" });
  const fit = useTemplateFit(list ? { ...settled, shortlist: list } : null);
  const fitting = fit.data?.fitting ?? [];
  const member = fitting[Math.min(at, fitting.length - 1)];
  const query = useTemplatePreview(member ? { ...settled, business_id: member.id } : null);
  const found = member ? query.data : undefined;
  return (
    <aside
      aria-label="Preview"
      className="w-[360px] shrink-0 overflow-y-auto border-l border-line bg-sheet px-4 py-4"
    >
      <select
        aria-label="List to preview with"
        value={list}
        onChange={(event) => {
          setShortlist(Number(event.target.value));
          setAt(0);
        }}
        className="w-full box"
      >
        {lists.length === 0 && <option value={0}>no shortlist yet</option>}
        {lists.map((item) => (
          <option key={item.id} value={item.id}>
            {item.name}
          </option>
        ))}
      </select>
      <ErrorNote error={fit.error ?? query.error} />
      {fit.data && !fit.error && (
        <details className="mt-2" open={fitting.length === 0 || undefined}>
          <summary className="cursor-pointer">
            {count(fitting.length)} of {fit.data.tried < fit.data.members && "the first "}
            {count(fit.data.tried)} get it
          </summary>
          <ul className="text-soft">
            {fit.data.left_out.map((item) => (
              <li key={item.reason} className="flex justify-between gap-2">
                <span>{item.reason}</span> {count(item.count)}
              </li>
            ))}
          </ul>
        </details>
      )}
      {member && (
        <p className="mt-2 flex items-center gap-2">
          <Button disabled={at === 0} onClick={() => setAt(at - 1)} aria-label="Previous business">
            ‹
          </Button>
          <span className="min-w-0 flex-1 truncate text-center font-medium">{member.name}</span>
          <Button
            disabled={at + 1 >= fitting.length}
            onClick={() => setAt(at + 1)}
            aria-label="Next business"
          >
            ›
          </Button>
        </p>
      )}
      {found && !found.left_out && (
        <div className="mt-3">
          {found.subject && <h2 className="text-[15px]">{found.subject}</h2>}
          <Sentences text={found.text} sentences={found.sentences} />
          <p className="mt-3 border-t border-line pt-2 text-soft">{found.length}</p>
          <ul className="text-acorn">
            {found.remarks.map((remark) => (
              <li key={remark.text}>{remark.text}</li>
            ))}
          </ul>
        </div>
      )}
    </aside>
  );
}

/** What was asked for, once nobody has typed for a third of a second. */
function useSettled<T>(value: T): T {
  const text = JSON.stringify(value);
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), 300);
    return () => clearTimeout(timer);
  }, [text]);
  return JSON.parse(settled) as T;
}
