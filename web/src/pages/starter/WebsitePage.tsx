import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { count, host } from "../../lib/format";
import { author } from "../../lib/session";
import { useTitle } from "../../lib/useTitle";
import {
  type Site,
  type SiteSection,
  useBeginWebsite,
  useChangeWebsite,
  useWebsite,
  type Website,
} from "../../queries/website";
import Copy from "./Copy";
import Look from "./Look";
import Outline from "./Outline";
import Pictures from "./Pictures";
import Preview from "./Preview";
import Publish from "./Publish";
import Share from "./Share";

interface Draft {
  sections: SiteSection[];
  theme: string;
  colours: Site["colours"];
  pictures: Site["pictures"];
  form_to: string;
}

const TABS = [
  ["copy", "Copy"],
  ["pictures", "Pictures"],
  ["preview", "Preview"],
  ["publish", "Publish"],
] as const;

/** A new website for a business, begun: outline, copy, look, and what becomes of it. */
export default function WebsitePage() {
  const id = Number(useParams().id ?? 0);
  const query = useWebsite(id);
  const begin = useBeginWebsite(id);
  const [tab, setTab] = useState<Tab>("copy");
  const found = query.data;
  useTitle(found ? `New website of ${found.name}` : "New website");
  if (!found) {
    return (
      <div className="p-6 text-soft">
        <ErrorNote error={query.error} />
        {query.isPending && "Loading …"}
      </div>
    );
  }
  if (!found.site) {
    return (
      <section aria-label="New website" className="max-w-xl px-6 py-5">
        <h1 className="text-lg">
          New website of{" "}
          <Link className="hover:underline" to={`/businesses/${id}`}>
            {found.name}
          </Link>
        </h1>
        <p className="mt-2 text-soft">
          It begins with the owner’s own words from the old website, and with what listings and registers say.
          Gaps are marked as questions; nothing is made up.
        </p>
        <Button
          look="main"
          className="mt-3"
          disabled={begin.isPending}
          onClick={() => begin.mutate(author())}
        >
          {begin.isPending ? "Reading the old website …" : "Begin the website"}
        </Button>
        <ErrorNote error={begin.error} />
      </section>
    );
  }
  return <Editor key={found.site.made_at} id={id} found={found} site={found.site} tab={tab} onTab={setTab} />;
}

type Tab = (typeof TABS)[number][0];

interface EditorProps {
  id: number;
  found: Website;
  site: Site;
  tab: Tab;
  onTab: (tab: Tab) => void;
}

function Editor({ id, found, site, tab, onTab }: EditorProps) {
  const save = useChangeWebsite(id);
  const begin = useBeginWebsite(id);
  const stored: Draft = {
    sections: site.sections,
    theme: site.theme,
    colours: site.colours,
    pictures: site.pictures,
    form_to: site.form_to,
  };
  const [draft, setDraft] = useState<Draft>(stored);
  const changed = JSON.stringify(draft) !== JSON.stringify(stored);
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => changed && event.preventDefault();
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, [changed]);
  const keep = (next: Draft) =>
    save.mutate({
      ...next,
      colours: next.colours as "light",
      sections: next.sections.map((section) => ({
        ...section,
        paragraphs: section.paragraphs.map((item) => ({
          text: item.text,
          origin: item.origin,
          where: item.where ?? "",
          title: item.title ?? "",
          old: item.old ?? "",
        })),
        rests_on: section.rests_on ?? "",
        shown: section.shown ?? true,
      })),
      pictures: next.pictures.map((item) => ({ id: item.id, alt: item.alt ?? "" })),
      by: author(),
    });
  const change = (sections: SiteSection[]) => setDraft((now) => ({ ...now, sections }));
  return (
    <div className="flex h-full">
      <aside
        aria-label="Outline and look"
        className="w-[270px] shrink-0 overflow-y-auto border-r border-line bg-sheet px-4 py-4"
      >
        <Outline sections={draft.sections} onChange={change} />
        <Look
          themes={found.themes}
          sets={found.colour_sets}
          theme={draft.theme}
          colours={draft.colours}
          formTo={draft.form_to}
          email={site.email}
          onChange={(look) => setDraft((now) => ({ ...now, ...look }))}
        />
      </aside>
      <section aria-label="New website" className="flex min-w-0 flex-1 flex-col px-5 py-4">
        <div className="flex flex-wrap items-center gap-2">
          <h1 className="min-w-0 flex-1 truncate text-lg">
            New website of{" "}
            <Link className="hover:underline" to={`/businesses/${id}`}>
              {found.name}
            </Link>
          </h1>
          <Button look="main" disabled={!changed || save.isPending} onClick={() => keep(draft)}>
            {save.isPending ? "Saving …" : "Save"}
          </Button>
          <Button disabled={!changed} onClick={() => setDraft(stored)}>
            Cancel
          </Button>
        </div>
        <p className="mt-1 text-soft">
          {site.read_pages > 0
            ? `${count(site.read_pages)} ${site.read_pages === 1 ? "page" : "pages"} of ${host(site.old)} had text to begin with.`
            : site.old
              ? `${host(site.old)} has no text to begin with: this rests on listings and registers.`
              : "There is no old website: this rests on listings and registers."}{" "}
          {site.questions.length > 0 &&
            `${count(site.questions.length)} ${site.questions.length === 1 ? "question" : "questions"} for the owner.`}
        </p>
        <ErrorNote error={save.error ?? begin.error} />
        <p className="mt-2 flex gap-1">
          {TABS.map(([name, label]) => (
            <Button key={name} aria-pressed={tab === name} onClick={() => onTab(name)}>
              {label}
            </Button>
          ))}
        </p>
        {tab === "copy" ? (
          <Copy
            business={id}
            helper={site.helper}
            sections={draft.sections}
            readability={changed ? {} : site.readability}
            onChange={change}
          />
        ) : tab === "pictures" ? (
          <Pictures
            id={id}
            placed={draft.pictures}
            onChange={(pictures) => setDraft((now) => ({ ...now, pictures }))}
          />
        ) : tab === "publish" ? (
          <Publish id={id} changed={changed} />
        ) : (
          <Preview id={id} site={site} changed={changed} />
        )}
      </section>
      <Share id={id} site={site} busy={begin.isPending} onBegin={() => begin.mutate(author())} />
    </div>
  );
}
