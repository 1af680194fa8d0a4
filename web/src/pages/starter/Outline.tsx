import { Button } from "../../components/Button";
import type { SiteSection } from "../../queries/website";

const PAGES: [SiteSection["page"], string][] = [
  ["home", "Home"],
  ["services", "Services"],
  ["about", "About us"],
  ["contact", "Contact"],
  ["privacy", "Privacy"],
];

/** The pages and their sections: shown or not, in which order, and what each rests on. */
export default function Outline({
  sections,
  onChange,
}: {
  sections: SiteSection[];
  onChange: (sections: SiteSection[]) => void;
}) {
  const toggle = (id: string) =>
    onChange(sections.map((item) => (item.id === id ? { ...item, shown: !item.shown } : item)));
  const up = (id: string) => {
    const at = sections.findIndex((item) => item.id === id);
    const page = sections[at]?.page;
    const before = sections.findLastIndex((item, index) => index < at && item.page === page);
    if (before < 0) return;
    const next = [...sections];
    const [moved] = next.splice(at, 1);
    if (moved) next.splice(before, 0, moved);
    onChange(next);
  };
  return (
    <>
      <h2 className="text-[15px]">Outline</h2>
      {PAGES.map(([page, title]) => {
        const parts = sections.filter((item) => item.page === page);
        return (
          <fieldset key={page} className="mt-2 min-w-0">
            <legend className="text-soft">{title}</legend>
            {parts.map((item, at) => (
              <div key={item.id} className="flex items-start gap-1.5 py-0.5">
                <label className="flex min-w-0 flex-1 items-start gap-1.5">
                  <input
                    type="checkbox"
                    checked={item.shown}
                    onChange={() => toggle(item.id)}
                    className="mt-1"
                  />
                  <span className="min-w-0">
                    {item.title || "Without a title"}
                    <span className="block truncate text-xs text-soft" title={item.rests_on}>
                      {item.paragraphs.every((part) => part.origin === "ask")
                        ? "to be asked"
                        : `from ${item.rests_on}`}
                    </span>
                  </span>
                </label>
                {at > 0 && (
                  <Button look="quiet" aria-label={`Move ${item.title} up`} onClick={() => up(item.id)}>
                    ↑
                  </Button>
                )}
              </div>
            ))}
          </fieldset>
        );
      })}
    </>
  );
}
