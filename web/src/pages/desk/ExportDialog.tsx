import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { ChevronDownIcon, ChevronUpIcon, XMarkIcon } from "@heroicons/react/16/solid";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { Download } from "../../components/Download";
import { ErrorNote } from "../../components/ErrorNote";
import { count, sentence, when } from "../../lib/format";
import { marks } from "../../lib/marks";
import {
  useDeliverPreset,
  useDropPreset,
  useExportChoices,
  usePresets,
  usePutPreset,
} from "../../queries/desk";
import OtherTool from "./OtherTool";

interface Props {
  open: boolean;
  filter: Record<string, string>;
  sort: string;
  many: number;
  onClose: () => void;
}

/** A file of what is shown: format, columns in their order, only what was never exported; saved by name, delivered after runs. */
export default function ExportDialog({ open, filter, sort, many, onClose }: Props) {
  const choices = useExportChoices().data;
  const presets = usePresets().data ?? [];
  const put = usePutPreset();
  const drop = useDropPreset();
  const deliver = useDeliverPreset();
  const [format, setFormat] = useState("csv");
  const [chosen, setChosen] = useState<string[] | null>(null);
  const [onlyNew, setOnlyNew] = useState(false);
  const [name, setName] = useState("");
  const [folder, setFolder] = useState("");
  const [webhook, setWebhook] = useState("");
  const [link, setLink] = useState(false);
  const columns = chosen ?? choices?.usual ?? [];
  const title = (id: string) => choices?.columns.find((column) => column.id === id)?.title ?? id;
  const rest = choices?.columns.filter((column) => !columns.includes(column.id)) ?? [];
  const address = new URLSearchParams({ ...filter, sort, columns: columns.join(",") });
  if (onlyNew) address.set("only_new", "true");
  const move = (at: number, by: number) => {
    const next = [...columns];
    const [id] = next.splice(at, 1);
    if (id) next.splice(at + by, 0, id);
    setChosen(next);
  };
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-ink/25" aria-hidden="true" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="flex max-h-[88vh] w-[760px] flex-col border border-line bg-sheet shadow-xl">
          <DialogTitle className="border-b border-line px-5 py-3 text-lg">
            Export {count(many)} businesses
          </DialogTitle>
          <div className="grid min-h-0 flex-1 grid-cols-[1fr_1fr] gap-6 overflow-y-auto px-5 py-3">
            <section aria-label="Columns">
              <h3>Columns, in this order</h3>
              <ol className="mt-1 max-h-56 overflow-y-auto border border-line bg-white">
                {columns.map((id, at) => (
                  <li key={id} className="flex items-center gap-1 border-b border-faint px-1.5 py-[1px]">
                    <span className="min-w-0 flex-1 truncate">{title(id)}</span>
                    <Small label={`${title(id)} up`} disabled={at === 0} onClick={() => move(at, -1)}>
                      <ChevronUpIcon className="size-3.5" />
                    </Small>
                    <Small
                      label={`${title(id)} down`}
                      disabled={at === columns.length - 1}
                      onClick={() => move(at, 1)}
                    >
                      <ChevronDownIcon className="size-3.5" />
                    </Small>
                    <Small
                      label={`remove ${title(id)}`}
                      onClick={() => setChosen(columns.filter((item) => item !== id))}
                    >
                      <XMarkIcon className="size-3.5" />
                    </Small>
                  </li>
                ))}
              </ol>
              <select
                value=""
                aria-label="Add a column"
                onChange={(event) => setChosen([...columns, event.target.value])}
                className={`mt-1 w-full box`}
              >
                <option value="">add a column …</option>
                {rest.map((column) => (
                  <option key={column.id} value={column.id}>
                    {column.title}
                  </option>
                ))}
              </select>
              <label className="mt-3 flex items-baseline gap-1.5">
                <input
                  type="checkbox"
                  checked={onlyNew}
                  onChange={(event) => setOnlyNew(event.target.checked)}
                  className="accent-leaf"
                />
                Only businesses not exported before
              </label>
              <fieldset className="mt-3">
                <legend className="font-serif font-semibold">Format</legend>
                <div className="mt-1 grid grid-cols-2">
                  {choices?.formats.map((item) => (
                    <label key={item.id} className="flex items-baseline gap-1.5 py-[1px]">
                      <input
                        type="radio"
                        name="format"
                        checked={format === item.id}
                        onChange={() => setFormat(item.id)}
                        className="accent-leaf"
                      />
                      {item.title}
                    </label>
                  ))}
                </div>
              </fieldset>
            </section>
            <section aria-label="Saved exports">
              <h3>Saved exports</h3>
              {presets.length === 0 && (
                <p className="text-soft">None yet. A saved export can also be delivered after every run.</p>
              )}
              <ul className="mt-1">
                {presets.map((preset) => (
                  <li key={preset.id} className="border-b border-faint py-1">
                    <span className="flex items-center gap-2">
                      <Download
                        from={`/api/presets/${preset.id}/file`}
                        className="min-w-0 flex-1 truncate text-left text-leaf-dark underline"
                      >
                        {preset.name}
                      </Download>
                      <span className="text-soft">
                        {preset.headings ? `${preset.headings} columns` : preset.format}
                      </span>
                      <Small label={`delete ${preset.name}`} onClick={() => drop.mutate(preset.id)}>
                        <XMarkIcon className="size-3.5" />
                      </Small>
                    </span>
                    {preset.folder && <Target preset={preset} target="folder" to={preset.folder} />}
                    {preset.webhook && <Target preset={preset} target="webhook" to={preset.webhook} />}
                    {preset.link && (
                      <span className="block text-xs break-all text-soft">
                        Link: {window.location.origin}
                        {preset.link}
                      </span>
                    )}
                    {(preset.folder || preset.webhook) && (
                      <Button
                        look="quiet"
                        disabled={deliver.isPending}
                        onClick={() => deliver.mutate(preset.id)}
                      >
                        Deliver now
                      </Button>
                    )}
                  </li>
                ))}
              </ul>
              <ErrorNote error={deliver.error} />
              <form
                className="mt-3 grid gap-1.5"
                onSubmit={(event) => {
                  event.preventDefault();
                  put.mutate(
                    { name, format, columns, filter, sort, only_new: onlyNew, folder, webhook, link },
                    { onSuccess: () => setName("") },
                  );
                }}
              >
                <input
                  className="box"
                  value={name}
                  onChange={(event) => setName(event.target.value)}
                  placeholder="Save these settings as …"
                  aria-label="Name of the saved export"
                  {...marks(put.error, "name")}
                />
                <input
                  className="box"
                  value={folder}
                  onChange={(event) => setFolder(event.target.value)}
                  placeholder="Deliver after each run into the folder, say “weekly”"
                  aria-label="Folder to deliver into"
                  {...marks(put.error, "folder")}
                />
                <input
                  className="box"
                  value={webhook}
                  onChange={(event) => setWebhook(event.target.value)}
                  placeholder="… or to the webhook https://…"
                  aria-label="Webhook to deliver to"
                  {...marks(put.error, "webhook")}
                />
                <label className="flex items-baseline gap-1.5">
                  <input
                    type="checkbox"
                    checked={link}
                    onChange={(event) => setLink(event.target.checked)}
                    className="accent-leaf"
                  />
                  Permanent link to this export (anybody with the link can read it)
                </label>
                <ErrorNote error={put.error} />
                <span>
                  <Button type="submit" disabled={!name.trim() || put.isPending}>
                    Save
                  </Button>
                </span>
              </form>
              <OtherTool columns={choices?.columns ?? []} filter={filter} sort={sort} />
            </section>
          </div>
          <div className="flex gap-2 border-t border-line px-5 py-3">
            <Download
              from={`/api/businesses/export/${format}?${address}`}
              className="inline-flex items-center rounded-[3px] border border-leaf bg-leaf px-2.5 py-1 font-medium text-white hover:bg-leaf-dark"
            >
              Export
            </Download>
            <Button onClick={onClose}>Close</Button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

type Preset = Schemas["PresetResponse"];

/** Where a saved export is delivered, and how the last delivery there ended. */
function Target({ preset, target, to }: { preset: Preset; target: string; to: string }) {
  const last = preset.deliveries.find((item) => item.target === target);
  return (
    <span className={`block text-xs break-words ${last?.error ? "text-acorn" : "text-soft"}`}>
      {target === "folder" ? "Folder" : "Webhook"} {to}
      {!last && ": after each run"}
      {last &&
        (last.error
          ? `: ${count(last.rows)} rows waiting. ${sentence(last.error)} Next try ${when(last.next_at)}.`
          : `: ${count(last.rows)} rows delivered ${when(last.tried_at)}`)}
    </span>
  );
}

interface SmallProps {
  label: string;
  disabled?: boolean;
  onClick: () => void;
  children: React.ReactNode;
}

function Small({ label, disabled, onClick, children }: SmallProps) {
  return (
    <button
      type="button"
      aria-label={label}
      disabled={disabled}
      onClick={onClick}
      className="p-0.5 text-soft hover:text-ink disabled:opacity-30"
    >
      {children}
    </button>
  );
}
