import { useState } from "react";
import { useSearchParams } from "react-router";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { useServices } from "../../queries/catalogue";
import { type Template, useTemplates } from "../../queries/messages";
import Nav from "./Nav";
import TemplateEditor from "./TemplateEditor";

const KINDS: [string, string][] = [
  ["email", "E-mails"],
  ["text", "Text messages"],
  ["social", "Social messages"],
  ["voicemail", "Voicemails"],
  ["call", "Call scripts"],
  ["post", "Posts for their pages"],
];
const BLANK: Template = {
  template: {
    id: "",
    kind: "email",
    name: "",
    text: "{{ greeting }}\n\n",
    subject: "",
    service: "",
    variant: "",
    language: "en",
  },
  version: 0,
  at: "",
  by: "",
  dropped: false,
};

/** All message templates, by kind and service; one of them in the editor. */
export default function Templates() {
  const query = useTemplates();
  const services = useServices().data ?? [];
  const [params, change] = useSearchParams();
  const kind = params.get("kind") ?? "email";
  const [fresh, setFresh] = useState<Template | null>(null);
  const all = (query.data?.templates ?? []).filter((item) => item.template.kind === kind);
  const chosen = fresh ?? all.find((item) => item.template.id === params.get("id")) ?? all[0];
  const groups = [...services.map((item) => [item.id, item.title] as const), ["", "Any service"] as const];
  return (
    <div className="flex h-full">
      <Nav title="Templates" />
      <section
        aria-label="Templates"
        className="w-[240px] shrink-0 overflow-y-auto border-r border-line px-3 py-4"
      >
        <div className="flex items-center">
          <h1 className="text-lg">Templates</h1>
          <Button
            className="ml-auto"
            onClick={() =>
              setFresh({
                ...BLANK,
                template: { ...BLANK.template, kind: kind as Template["template"]["kind"] },
              })
            }
          >
            New
          </Button>
        </div>
        <select
          aria-label="Kind"
          value={kind}
          onChange={(event) => {
            setFresh(null);
            change({ kind: event.target.value });
          }}
          className="mt-2 w-full box"
        >
          {KINDS.map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </select>
        <ErrorNote error={query.error} />
        {groups.map(([id, title]) => {
          const found = all.filter((item) => item.template.service === id);
          if (found.length === 0) return null;
          return (
            <div key={id}>
              <h2 className="mt-3 text-[13px]">{title}</h2>
              {found.map((item) => (
                <button
                  key={item.template.id}
                  type="button"
                  aria-current={item === chosen ? "true" : undefined}
                  onClick={() => {
                    setFresh(null);
                    change({ kind, id: item.template.id });
                  }}
                  className={`block w-full truncate rounded-[3px] px-1.5 py-0.5 text-left ${item === chosen ? "bg-leaf-soft font-semibold text-leaf-dark" : "hover:bg-faint"}`}
                >
                  {item.template.name}
                  {item.version > 0 && <span className="text-soft"> · v{item.version}</span>}
                </button>
              ))}
            </div>
          );
        })}
      </section>
      {chosen && (
        <TemplateEditor
          key={`${chosen.template.id}${chosen.version}`}
          start={chosen}
          slots={query.data?.slots ?? []}
          onSaved={(saved) => {
            setFresh(null);
            change({ kind: saved.template.kind, id: saved.template.id });
          }}
        />
      )}
    </div>
  );
}
