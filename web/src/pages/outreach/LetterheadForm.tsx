import { useState } from "react";
import { client, type Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { Conflict } from "../../components/Conflict";
import { ErrorNote } from "../../components/ErrorNote";
import { usePutLetterhead, usePutLogo } from "../../queries/outreach";

type Head = Schemas["LetterheadResponse"];
type Field = "name" | "person" | "line" | "phone" | "email" | "website";

const FIELDS: [Field, string, string][] = [
  ["name", "Name", "of the agency"],
  ["line", "What you do", "in one sentence, below the name"],
  ["person", "Who signs", "a person’s name"],
  ["phone", "Phone", "as it is to be read"],
  ["email", "E-mail", ""],
  ["website", "Website", ""],
];

interface Props {
  head: Head;
  onSaved?: (saved: Schemas["LetterheadRequest"]) => void;
  button?: string;
}

/** The letterhead in boxes, with its colour and logo. */
export default function LetterheadForm({ head, onSaved, button = "Save" }: Props) {
  const put = usePutLetterhead();
  const logo = usePutLogo();
  const [draft, setDraft] = useState(head);
  const [shown, setShown] = useState(0);
  const { logo: _, ...asked } = draft;
  const set = (field: keyof Head, value: string) => setDraft((now) => ({ ...now, [field]: value }));
  const keep = () => put.mutate(asked, { onSuccess: () => onSaved?.(asked) });
  const takeTheirs = async () => {
    const { data } = await client.GET("/api/letterhead");
    if (data) setDraft(data);
    put.reset();
  };
  const pick = (file: File | null) => logo.mutate(file, { onSuccess: () => setShown((now) => now + 1) });
  return (
    <form
      className="mt-3 grid max-w-xl grid-cols-[110px_1fr] items-center gap-x-3 gap-y-2"
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
    >
      {FIELDS.map(([field, words, hint]) => (
        <div key={field} className="contents">
          <label htmlFor={field}>{words}</label>
          <input
            id={field}
            value={draft[field]}
            placeholder={hint}
            onChange={(event) => set(field, event.target.value)}
            className="box"
          />
        </div>
      ))}
      <label htmlFor="colour">Colour</label>
      <span className="flex items-center gap-2">
        <input
          id="colour"
          type="color"
          value={draft.colour}
          onChange={(event) => set("colour", event.target.value)}
          className="h-8 w-12 border border-line bg-white p-0.5"
        />
        <span className="text-soft">
          {draft.colour}; darkened by itself where text in it could not be read.
        </span>
      </span>
      <label htmlFor="logo">Logo</label>
      <span className="flex items-center gap-3">
        {head.logo && (
          <img
            src={`/api/letterhead/logo?${shown}`}
            alt="The logo"
            className="max-h-12 border border-line bg-white p-1"
          />
        )}
        <input
          id="logo"
          type="file"
          accept="image/png,image/jpeg,image/webp,image/gif"
          className="file:mr-2 file:rounded-[3px] file:border file:border-line file:bg-sheet file:px-2.5 file:py-1 file:font-medium hover:file:border-leaf"
          onChange={(event) => pick(event.target.files?.[0] ?? null)}
        />
        {head.logo && (
          <Button look="quiet" onClick={() => pick(null)}>
            take it off
          </Button>
        )}
      </span>
      <span />
      <span className="flex items-center gap-2">
        <Button type="submit" look="main" disabled={put.isPending || !draft.name.trim()}>
          {button}
        </Button>
        {put.isSuccess && <output className="text-soft">Saved.</output>}
      </span>
      <span className="col-span-2">
        <Conflict error={put.error} onMine={keep} onTheirs={takeTheirs} />
        <ErrorNote error={logo.error} />
      </span>
    </form>
  );
}
