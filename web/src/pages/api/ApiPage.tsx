import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { Loading } from "../../components/Loading";
import { exampleOf, type Operation, operationsOf, useApiDocument } from "../../queries/apiDocument";
import Nav from "../agency/Nav";
import { LANGUAGES, type Language, snippet } from "./snippets";

type Found = NonNullable<ReturnType<typeof useApiDocument>["data"]>;

/** What other programs can ask of this installation, operation by operation, with requests that can be run. */
export default function ApiPage() {
  const query = useApiDocument();
  const [words, setWords] = useState("");
  const [language, setLanguage] = useState<Language>("curl");
  const found = query.data;
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const holds = (one: Operation) =>
    wanted.every((word) =>
      `${one.method} ${one.path} ${one.tags.join(" ")} ${(one.description ?? "").split("\n\n")[0]}`
        .toLowerCase()
        .includes(word),
    );
  const operations = found ? operationsOf(found).filter(holds) : [];
  const tags = [...new Set(operations.map((one) => one.tags[0] ?? ""))];
  return (
    <div className="flex h-full">
      <Nav title="API" />
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard */}
      <section aria-label="API" tabIndex={0} className="min-w-0 flex-1 overflow-y-auto px-6 py-4">
        <h1 className="text-lg">API</h1>
        {found?.info.description.split("\n\n").map((paragraph) => (
          <p key={paragraph} className="mt-1 max-w-3xl text-soft">
            {paragraph.replaceAll(/[`*]/g, "")}
          </p>
        ))}
        <div className="mt-3 flex items-center gap-3">
          <input
            type="search"
            aria-label="Find an operation"
            placeholder="Find, such as: shortlist add"
            value={words}
            onChange={(event) => setWords(event.target.value)}
            className="w-72 box"
          />
          {LANGUAGES.map((one) => (
            <Button key={one} aria-pressed={one === language} onClick={() => setLanguage(one)}>
              {one}
            </Button>
          ))}
          <a href="/api/openapi.json" className="ml-auto text-leaf-dark underline">
            OpenAPI document
          </a>
        </div>
        <ErrorNote error={query.error} />
        {query.isPending && <Loading />}
        {found && operations.length === 0 && (
          <p className="mt-4 text-soft">No operation holds these words.</p>
        )}
        {found &&
          tags.map((tag) => (
            <div key={tag}>
              <h2 className="mt-5 text-[15px] first-letter:uppercase">{tag}</h2>
              {operations
                .filter((one) => (one.tags[0] ?? "") === tag)
                .map((one) => (
                  <OneOperation key={one.operationId} operation={one} found={found} language={language} />
                ))}
            </div>
          ))}
      </section>
    </div>
  );
}

function OneOperation({
  operation,
  found,
  language,
}: {
  operation: Operation;
  found: Found;
  language: Language;
}) {
  const [open, setOpen] = useState(false);
  const [sentence, ...more] = (operation.description ?? "").split("\n\n");
  const schemas = found.components.schemas;
  const body = operation.requestBody?.content["application/json"]?.schema;
  return (
    <details
      className="max-w-4xl border-t border-line py-1"
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary className="cursor-pointer">
        <code className="inline-block w-16 text-leaf-dark">{operation.method}</code>
        <code>{operation.path}</code> <span className="text-soft">{sentence}</span>
      </summary>
      {open && (
        <div className="mt-1 ml-16 space-y-1.5">
          {more.map((line) => (
            <p key={line} className="text-soft">
              {line.replaceAll("*", "")}
            </p>
          ))}
          {(operation.parameters ?? []).length > 0 && (
            <p>
              Parameters:{" "}
              {operation.parameters
                ?.map((one) => `${one.name}${one.required ? "" : " (optional)"}`)
                .join(", ")}
            </p>
          )}
          {body && <pre className="text-xs">{JSON.stringify(exampleOf(body, schemas), null, 1)}</pre>}
          <pre
            data-testid="snippet"
            className="break-words whitespace-pre-wrap border border-line bg-sheet p-2 text-xs"
          >
            {snippet(language, operation, window.location.origin, schemas)}
          </pre>
        </div>
      )}
    </details>
  );
}
