import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { base64 } from "../../lib/base64";
import { count, day } from "../../lib/format";
import { useDeleteRegister, useImportRegister } from "../../queries/texts";

/** Registers of numbers that must not be called or texted: those imported, and a new one. */
export default function Registers({ registers }: { registers: Schemas["Register"][] }) {
  const take = useImportRegister();
  const drop = useDeleteRegister();
  const [name, setName] = useState("");
  const [dated, setDated] = useState("");
  const [file, setFile] = useState<File | null>(null);
  const send = async () => {
    if (file) take.mutate({ title: name, dated, name: file.name, content: await base64(file) });
  };
  return (
    <section aria-label="Do-not-call registers" className="mt-6">
      <h3 className="border-b border-line">Do-not-call registers</h3>
      <p className="text-soft">Nobody on one gets a text or stands on a call list. Sheets say so.</p>
      <ul>
        {registers.map((item) => (
          <li key={item.register} className="flex items-center gap-3 border-b border-faint py-1">
            <span className="w-56 truncate font-semibold">{item.register}</span>
            <span>of {day(item.dated)}</span>
            <span className="text-soft">{count(item.numbers)} numbers</span>
            <Button look="quiet" onClick={() => drop.mutate(item.register)}>
              Delete
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="mt-2 flex flex-wrap items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void send();
        }}
      >
        <input
          aria-label="Name of the register"
          placeholder="Name of the register"
          value={name}
          maxLength={80}
          onChange={(event) => setName(event.target.value)}
          className="w-48 box"
        />
        <input
          type="date"
          aria-label="Day of the register"
          value={dated}
          onChange={(event) => setDated(event.target.value)}
          className="box"
        />
        <input
          type="file"
          aria-label="File of the register"
          onChange={(event) => setFile(event.target.files?.[0] ?? null)}
        />
        <Button type="submit" disabled={!name.trim() || !dated || !file || take.isPending}>
          Import
        </Button>
        {take.data && (
          <output className="text-soft">
            {count(take.data.numbers)} numbers
            {take.data.unreadable > 0 && `, ${count(take.data.unreadable)} cells were no number`}
          </output>
        )}
      </form>
      <ErrorNote error={take.error ?? drop.error} />
    </section>
  );
}
