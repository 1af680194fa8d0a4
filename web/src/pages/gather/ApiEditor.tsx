import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { fieldName } from "../../lib/fields";
import { count } from "../../lib/format";
import { type ApiDraft, useSaveApi } from "../../queries/apis";
import { useRecipeChoices } from "../../queries/gathering";
import ApiKey from "./ApiKey";
import FoundRows from "./FoundRows";

const PAGINGS: Record<string, string> = {
  none: "there are none",
  page: "by number: {page} in the address",
  offset: "by offset: {offset} in the address",
  cursor: "by a token in the answer",
  link: "by an address in the answer",
  header: "by a Link header",
};
const ASKED: Record<string, string> = {
  tiles: "Asked by area: it is split where the service’s cap is reached.",
  places: "Asked by the names of places.",
  business: "Asked about each business that is audited, one at a time.",
  once: "Asked once for everything: put {term}, {place} or {lat} and {lon} where they belong.",
};

interface Props {
  draft: ApiDraft;
  trial: Schemas["ApiSampleResponse"] | undefined;
  busy: boolean;
  onChange: (draft: ApiDraft) => void;
  onTry: () => void;
  onDone: () => void;
}

type Text = "title" | "address" | "body" | "items" | "cursor" | "cursor_name" | "total" | "more" | "error";
type Amount = "page_size" | "cap" | "limit" | "pace_s" | "cost_per_request" | "cost_per_row";

/** A service’s recipe, field by field, above the places that it reads. */
export default function ApiEditor({ draft, trial, busy, onChange, onTry, onDone }: Props) {
  const save = useSaveApi();
  const choices = useRecipeChoices();
  const fields = draft.fields ?? [];
  const line = (name: Text, label: string, hint = "") => (
    <label className="contents" key={name}>
      <span className="text-soft">{label}</span>
      <input
        value={draft[name]}
        placeholder={hint}
        onChange={(event) => onChange({ ...draft, [name]: event.target.value })}
        className="box"
      />
    </label>
  );
  const number = (name: Amount, label: string) => (
    <label key={name}>
      <span className="block text-soft">{label}</span>
      <input
        inputMode="decimal"
        defaultValue={draft[name]}
        onChange={(event) => onChange({ ...draft, [name]: Number(event.target.value) || 0 })}
        className="box w-28"
      />
    </label>
  );
  const setField = (index: number, part: Partial<Schemas["ApiFieldModel"]>) =>
    onChange({
      ...draft,
      fields: fields.map((rule, at) => (at === index ? { ...rule, ...part } : rule)),
    });
  return (
    <section aria-label="Recipe" className="mt-5 max-w-[980px]">
      <div className="grid grid-cols-[190px_1fr] items-center gap-x-3 gap-y-1">
        {line("title", "Name", "as it is to be called here")}
        {line("address", "Address, with slots")}
        {draft.body !== "" && line("body", "JSON that is sent, with slots")}
        {line("items", "Where the places stand")}
        <label className="contents">
          <span className="text-soft">Further pages</span>
          <select
            value={draft.paging}
            onChange={(event) => onChange({ ...draft, paging: event.target.value })}
            className="box"
          >
            {(choices.data?.pagings ?? [draft.paging]).map((id) => (
              <option key={id} value={id}>
                {PAGINGS[id] ?? id}
              </option>
            ))}
          </select>
        </label>
        {(draft.paging === "cursor" || draft.paging === "link") &&
          line("cursor", "Where the next page is named")}
        {draft.paging === "cursor" && line("cursor_name", "Parameter that takes the token")}
        {line("total", "Where the total stands", "if the answer has one")}
        {draft.paging !== "none" && line("more", "Where it says “there is more”", "if the answer has it")}
        {line("error", "Where an error stands", "in an answer that is none")}
      </div>
      <p className="mt-1 text-soft">{ASKED[draft.by]}</p>
      <details className="mt-1">
        <summary className="cursor-pointer text-leaf-dark">Key, pace, price, limits</summary>
        <ApiKey draft={draft} onChange={onChange} />
        <div className="mt-1 flex flex-wrap gap-2">
          {number("page_size", "Places a page")}
          {number("cap", "Most for a question")}
          {number("limit", "Most pages")}
          {number("pace_s", "Pace, seconds")}
          {number("cost_per_request", "Price of a request")}
          {number("cost_per_row", "Price of a place")}
        </div>
        <label className="mt-1 flex items-baseline gap-1.5">
          <input
            type="checkbox"
            checked={draft.ranked ?? false}
            onChange={(event) => onChange({ ...draft, ranked: event.target.checked })}
            className="accent-leaf"
          />
          Its order says who is seen first
        </label>
      </details>
      <h2 className="mt-4 text-[14px]">
        {draft.by === "business" ? "Fields read from each entry" : "Fields read from each place"}
      </h2>
      <div className="mt-1 grid grid-cols-2 gap-x-6 gap-y-1">
        {fields.map((rule, index) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: rules have no name of their own
          <span key={index} className="flex gap-1">
            <select
              aria-label={`Field ${index + 1}`}
              value={rule.field}
              onChange={(event) => setField(index, { field: event.target.value })}
              className="box w-28"
            >
              {(choices.data?.api_fields ?? [rule.field]).map((field) => (
                <option key={field} value={field}>
                  {fieldName(field)}
                </option>
              ))}
            </select>
            <input
              aria-label={`Path of ${rule.field}`}
              value={rule.path}
              onChange={(event) => setField(index, { path: event.target.value })}
              className="box min-w-0 flex-1"
            />
            <Button
              look="quiet"
              aria-label={`Remove ${rule.field}`}
              onClick={() => onChange({ ...draft, fields: fields.filter((_, at) => at !== index) })}
            >
              ×
            </Button>
          </span>
        ))}
      </div>
      <p className="mt-2 flex items-center gap-2">
        <Button onClick={() => onChange({ ...draft, fields: [...fields, { field: "category", path: "" }] })}>
          Add a field
        </Button>
        <Button disabled={busy} onClick={onTry}>
          {busy ? "Asking …" : "Ask again"}
        </Button>
        <Button
          look="main"
          disabled={save.isPending || !draft.title.trim()}
          onClick={() => save.mutate(draft, { onSuccess: onDone })}
        >
          Save as a source
        </Button>
        <Button look="quiet" onClick={onDone}>
          Cancel
        </Button>
      </p>
      <ErrorNote error={save.error} />
      {trial && (
        <>
          <h2 className="mt-4 text-[14px]">
            {draft.by === "business" ? "Entries found" : "Places found"}{" "}
            <span className="font-sans font-normal text-soft">
              {count(trial.rows.length)} in this answer
              {trial.total !== null && `, ${count(trial.total)} in all`}
            </span>
          </h2>
          {trial.second && <p className={trial.second_works ? "text-soft" : "text-alarm"}>{trial.second}</p>}
          <FoundRows fields={fields.map((rule) => rule.field)} rows={trial.rows} />
        </>
      )}
    </section>
  );
}
