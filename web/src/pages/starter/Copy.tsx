import { useState } from "react";
import { Button } from "../../components/Button";
import { host } from "../../lib/format";
import { type Paragraph, type SiteSection, useRewordCopy } from "../../queries/website";
import Reword from "../outreach/Reword";

interface Props {
  business: number;
  helper: string;
  sections: SiteSection[];
  readability: Record<string, number>;
  onChange: (sections: SiteSection[]) => void;
}

const words = (text: string): number => text.split(/\s+/).filter(Boolean).length;

/** What a reading ease means, by the words of the measure's author. */
const reads = (ease: number): string =>
  ease < 30 ? "very hard to read" : ease < 50 ? "hard to read" : ease < 70 ? "reads well" : "reads easily";

/** Where a paragraph's words are from. */
function Origin({ item }: { item: Paragraph }) {
  const where = item.where ?? "";
  if (item.origin === "ask") return <span className="text-acorn">to be asked</span>;
  if (item.origin === "agency")
    return <span className="text-soft">{where ? `changed, from ${host(where)}` : "written by you"}</span>;
  return item.origin === "website" && where ? (
    <a
      href={where}
      target="_blank"
      rel="noreferrer"
      title={where}
      className="block truncate text-leaf-dark hover:underline"
    >
      {host(where)}
    </a>
  ) : (
    <span className="text-soft">{where}</span>
  );
}

/** The copy, paragraph by paragraph, each beside where it is from. */
export default function Copy({ business, helper, sections, readability, onChange }: Props) {
  const set = (id: string, change: Partial<SiteSection>) =>
    onChange(sections.map((item) => (item.id === id ? { ...item, ...change } : item)));
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard
    <div className="mt-2 min-h-0 flex-1 overflow-y-auto" tabIndex={0}>
      {sections
        .filter((section) => section.shown)
        .map((section) => (
          <Section
            key={section.id}
            business={business}
            helper={helper}
            section={section}
            ease={readability[section.id]}
            onChange={(change) => set(section.id, change)}
          />
        ))}
    </div>
  );
}

function Section({
  business,
  helper,
  section,
  ease,
  onChange,
}: {
  business: number;
  helper: string;
  section: SiteSection;
  ease?: number;
  onChange: (change: Partial<SiteSection>) => void;
}) {
  const reword = useRewordCopy(business);
  const [open, setOpen] = useState(-1);
  const put = (at: number, next: Partial<Paragraph>) =>
    onChange({
      paragraphs: section.paragraphs.map((item, index) =>
        index === at
          ? {
              ...item,
              old: item.old || (item.origin === "agency" || item.origin === "ask" ? "" : item.text),
              ...next,
              origin: "agency",
            }
          : item,
      ),
    });
  const putBack = (at: number) =>
    onChange({
      paragraphs: section.paragraphs.map((item, index) =>
        index === at
          ? {
              ...item,
              text: item.old ?? "",
              old: "",
              origin: item.where?.startsWith("http") ? "website" : "facts",
            }
          : item,
      ),
    });
  const drop = (at: number) =>
    onChange({ paragraphs: section.paragraphs.filter((_, index) => index !== at) });
  const items = section.kind === "services" || section.kind === "people";
  const length = section.paragraphs.reduce((sum, item) => sum + words(`${item.title ?? ""} ${item.text}`), 0);
  return (
    <section aria-label={section.title} className="border-t border-line py-2">
      <p className="flex items-baseline gap-2">
        <input
          aria-label="Title of the section"
          value={section.title}
          onChange={(event) => onChange({ title: event.target.value })}
          className="box min-w-0 flex-1 font-serif text-[15px]"
        />
        <span className="text-soft">
          {length} words{ease !== undefined && `, ${reads(ease)}`}
        </span>
        <Button
          onClick={() =>
            onChange({
              paragraphs: [
                ...section.paragraphs,
                { text: "", origin: "agency", where: "", title: "", old: "" },
              ],
            })
          }
        >
          Add
        </Button>
      </p>
      <ul>
        {section.paragraphs.map((item, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: paragraphs have no name of their own, and stay in place
          <li key={at} className="mt-1.5 flex gap-3">
            <span className="min-w-0 flex-1">
              {(items || item.title) && (
                <input
                  aria-label="Title"
                  value={item.title ?? ""}
                  placeholder="Title"
                  onChange={(event) => put(at, { title: event.target.value })}
                  className="mb-1 w-full box"
                />
              )}
              <textarea
                aria-label={item.origin === "ask" ? "Question for the owner" : "Text"}
                value={item.text}
                rows={Math.min(8, Math.max(1, Math.ceil(item.text.length / 85)))}
                onChange={(event) => put(at, { text: event.target.value })}
                className={`block w-full box ${item.origin === "ask" ? "border-dashed border-acorn" : ""}`}
              />
              {item.old && item.old !== item.text && (
                <span className="mt-0.5 block text-xs text-soft">
                  Before: {item.old}{" "}
                  <Button look="quiet" onClick={() => putBack(at)}>
                    Put back
                  </Button>
                </span>
              )}
              {open === at && (
                <Reword
                  reword={reword}
                  helper={helper}
                  language=""
                  fixed
                  draft={{ subject: "", text: item.text }}
                  onUse={({ text }) => {
                    put(at, { text });
                    setOpen(-1);
                  }}
                />
              )}
            </span>
            <span className="w-44 shrink-0 text-xs">
              <Origin item={item} />
              <span className="block">
                {helper && item.origin !== "ask" && item.text && (
                  <Button
                    look="quiet"
                    onClick={() => {
                      reword.reset();
                      setOpen(open === at ? -1 : at);
                    }}
                  >
                    Reword
                  </Button>
                )}
                <Button look="quiet" onClick={() => drop(at)}>
                  Delete
                </Button>
              </span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
