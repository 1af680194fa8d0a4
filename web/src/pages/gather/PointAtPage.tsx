import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { fieldName } from "../../lib/fields";
import { useRecipeChoices } from "../../queries/gathering";
import PageFrame, { type Mark } from "./PageFrame";
import type { Clicked } from "./useRecipeTrial";

type Kind = Clicked["kind"];
const SAYS: Record<Kind, string> = {
  item: "Click any business on the page. If some are left out, click one of those too.",
  field: "Click a value of one business, such as its street; the same is read of all.",
  next: "Click what leads to the next page of results.",
};
const KINDS: [Kind, string][] = [
  ["item", "A business"],
  ["field", "A value"],
  ["next", "The next page"],
];

interface Props {
  found: Schemas["PageResponse"];
  title: string;
  /** Is this one business's own page, where only values are pointed at? */
  own?: boolean;
  onClick: (clicked: Clicked) => void;
}

/** The page as it was fetched, to point at what is to be read: a business, its values, the way to the next page. */
export default function PointAtPage({ found, title, own = false, onClick }: Props) {
  const [kind, setKind] = useState<Kind>(own ? "field" : "item");
  const [field, setField] = useState("");
  const [first, setFirst] = useState<number | null>(null);
  const choices = useRecipeChoices();
  const marks: Mark[] = [
    { elements: found.taken.items, look: "item" },
    ...Object.entries(found.taken.fields).map(([field, elements]) => ({
      elements,
      look: "field" as const,
      label: fieldName(field),
    })),
    { elements: found.taken.next, look: "next" },
  ];
  const pick = (element: number) => {
    if (element < 0) return;
    if (kind !== "item") return onClick({ kind, elements: [element], field });
    // a second business outside of what is taken widens the list; the first click begins it
    const elements = first !== null && found.total > 0 ? [first, element] : [element];
    setFirst(elements[0] ?? element);
    onClick({ kind, elements, field: "" });
  };
  return (
    <div className="mt-2">
      <div className="flex flex-wrap items-center gap-2 pb-1.5">
        {!own && (
          <fieldset className="flex gap-1" aria-label="What you point at">
            {KINDS.map(([id, label]) => (
              <Button key={id} aria-pressed={kind === id} onClick={() => setKind(id)}>
                {label}
              </Button>
            ))}
          </fieldset>
        )}
        {kind === "field" && (
          <label className="flex items-center gap-1.5">
            <span className="text-soft">It is</span>
            <select className="box" value={field} onChange={(event) => setField(event.target.value)}>
              <option value="">what it looks like</option>
              {choices.data?.fields.map((name) => (
                <option key={name} value={name}>
                  the {fieldName(name)}
                </option>
              ))}
              {!own && <option value="own_page">the link to its own page</option>}
            </select>
          </label>
        )}
        {kind === "item" && first !== null && (
          <Button look="quiet" onClick={() => setFirst(null)}>
            Start the list again
          </Button>
        )}
        <span className="text-soft">{SAYS[kind]}</span>
      </div>
      <PageFrame page={found.page} title={title} marks={marks} onPick={pick} />
    </div>
  );
}
