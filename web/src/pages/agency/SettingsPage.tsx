import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useLocation } from "react-router";
import { Problem } from "../../api/client";
import { Button } from "../../components/Button";
import { Conflict } from "../../components/Conflict";
import { ErrorNote } from "../../components/ErrorNote";
import { sentence } from "../../lib/format";
import { useSaveSettings, useSettings, type Values } from "../../queries/agency";
import { key } from "../../queries/keys";
import Nav from "./Nav";
import Section, { type SectionInfo } from "./Section";

/** All settings of an installation, by section; `#name` leads to one field. */
export default function SettingsPage() {
  const query = useSettings();
  const all = query.data
    ? [...query.data.sections.slice(0, 3), ...query.data.sources, ...query.data.sections.slice(3)]
    : [];
  return (
    <div className="flex h-full">
      <Nav title="Settings" sections={all} />
      {query.data ? (
        <Form sections={all} file={query.data.file} />
      ) : (
        <div className="p-6 text-soft">
          <ErrorNote error={query.error} />
          {query.isPending && "Loading …"}
        </div>
      )}
    </div>
  );
}

function Form({ sections, file }: { sections: SectionInfo[]; file: string }) {
  const [draft, setDraft] = useState<Values>({});
  const [round, setRound] = useState(0);
  const save = useSaveSettings();
  const { hash } = useLocation();
  const problem = save.error instanceof Problem ? save.error : null;
  const changed = Object.keys(draft).length;
  const queries = useQueryClient();
  const keep = () => save.mutate(draft, { onSuccess: () => setDraft({}) });
  const discard = () => {
    setDraft({});
    setRound((now) => now + 1);
    save.reset();
  };
  const takeTheirs = () => queries.invalidateQueries({ queryKey: key("settings") }).then(discard);
  useEffect(() => {
    const there = document.getElementById(decodeURIComponent(hash.slice(1)));
    there?.scrollIntoView({ block: "start" });
    there?.querySelector<HTMLElement>("input, select")?.focus();
  }, [hash]);
  return (
    <form
      className="flex min-w-0 flex-1 flex-col"
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
    >
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard */}
      <section aria-label="Settings" tabIndex={0} className="min-h-0 flex-1 overflow-y-auto px-6 pb-6">
        <h1 className="mt-4 text-lg">Settings</h1>
        <p className="text-soft">They take effect as soon as you save. They are kept in {file}.</p>
        {sections.map((section) => (
          <Section
            key={`${section.id} ${round}`}
            section={section}
            draft={draft}
            where={problem?.where ?? ""}
            problem={problem ? sentence(problem.what) : ""}
            onChange={(values) => setDraft((now) => ({ ...now, ...values }))}
          />
        ))}
      </section>
      <div className="flex items-center gap-3 border-t border-line bg-sheet px-6 py-2">
        <Button type="submit" look="main" disabled={changed === 0 || save.isPending}>
          {save.isPending ? "Saving …" : "Save"}
        </Button>
        <Button disabled={changed === 0} onClick={discard}>
          Cancel
        </Button>
        <Conflict error={save.error} onMine={keep} onTheirs={takeTheirs} />
        {changed > 0 && !save.error && <span className="text-soft">{changed} changed, not saved yet</span>}
      </div>
    </form>
  );
}
