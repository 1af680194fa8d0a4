import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { base64 } from "../../lib/base64";
import { usePutPreset, useReadLayout } from "../../queries/desk";

type Layout = Schemas["LayoutRequest"];

interface Props {
  columns: { id: string; title: string }[];
  filter: Record<string, string>;
  sort: string;
}

/** A file as another tool takes it: its headings are read from a sample, filled by columns of ours, and kept by name. */
export default function OtherTool({ columns, filter, sort }: Props) {
  const read = useReadLayout();
  const put = usePutPreset();
  const [layout, setLayout] = useState<Layout | null>(null);
  const [name, setName] = useState("");
  const take = async (file: File | undefined) => {
    if (!file) return;
    read.mutate(await base64(file), {
      onSuccess: (found) =>
        setLayout({
          ...found,
          fields: found.fields.map((field) => ({
            heading: field.heading,
            column: field.column ?? "",
            text: field.text ?? "",
          })),
          delimiter: found.delimiter ?? ",",
          encoding: found.encoding ?? "utf-8",
        }),
    });
  };
  const set = (at: number, change: { column?: string; text?: string }) =>
    setLayout(
      (now) =>
        now && {
          ...now,
          fields: now.fields.map((field, index) => (index === at ? { ...field, ...change } : field)),
        },
    );
  return (
    <section aria-label="For another tool" className="mt-4 border-t border-line pt-2">
      <h3>For another tool</h3>
      <p className="text-soft">A CSV file from it, or its template for imports; its headings are read.</p>
      <input
        type="file"
        accept=".csv,.tsv,.txt"
        aria-label="Sample file of the other tool"
        className="mt-1 w-full"
        onChange={(event) => void take(event.target.files?.[0])}
      />
      <ErrorNote error={read.error} />
      {layout && (
        <form
          className="mt-1 grid gap-1.5"
          onSubmit={(event) => {
            event.preventDefault();
            put.mutate(
              {
                name,
                format: "csv",
                columns: [],
                filter,
                sort,
                only_new: false,
                folder: "",
                webhook: "",
                link: false,
                layout,
              },
              {
                onSuccess: () => {
                  setName("");
                  setLayout(null);
                },
              },
            );
          }}
        >
          <div className="max-h-48 overflow-y-auto border border-line bg-white">
            {layout.fields.map((field, at) => (
              <div
                key={field.heading}
                className="flex items-center gap-1.5 border-b border-faint px-1.5 py-0.5"
              >
                <span className="w-28 shrink-0 truncate" title={field.heading}>
                  {field.heading}
                </span>
                <select
                  aria-label={`What fills ${field.heading}`}
                  value={field.column}
                  onChange={(event) => set(at, { column: event.target.value, text: "" })}
                  className="min-w-0 flex-1 box"
                >
                  <option value="">a fixed text</option>
                  {columns.map((column) => (
                    <option key={column.id} value={column.id}>
                      {column.title}
                    </option>
                  ))}
                </select>
                {!field.column && (
                  <input
                    aria-label={`Text of ${field.heading}`}
                    placeholder="empty"
                    value={field.text}
                    onChange={(event) => set(at, { text: event.target.value })}
                    className="w-20 box"
                  />
                )}
              </div>
            ))}
          </div>
          <input
            aria-label="Name of the other tool"
            placeholder="Save as …"
            value={name}
            onChange={(event) => setName(event.target.value)}
            className="box"
          />
          <ErrorNote error={put.error} />
          <span>
            <Button type="submit" disabled={!name.trim() || put.isPending}>
              Save
            </Button>
          </span>
        </form>
      )}
    </section>
  );
}
