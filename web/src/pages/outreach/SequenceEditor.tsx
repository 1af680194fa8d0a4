import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { author } from "../../lib/session";
import { useSaveSequence, useTemplates } from "../../queries/messages";
import { type Step, WHEN_WORDS, type When } from "./steps";

type Start = { id?: number; name: string; steps: Step[]; quiet_days: number };

const KINDS: [Step["kind"], string][] = [
  ["email", "E-mail"],
  ["page", "Create and share the owner’s page"],
  ["call", "Task: call"],
  ["text", "Task: text message"],
  ["social", "Task: social message"],
];
const WHENS = Object.entries(WHEN_WORDS) as [When, string][];

const step = (kind: Step["kind"], after_days: number): Step => ({
  kind,
  after_days,
  when: "always",
  templates: [],
});

/** The steps of a sequence, in a table that can be changed. */
export default function SequenceEditor({ start, onDone }: { start?: Start; onDone: () => void }) {
  const [name, setName] = useState(start?.name ?? "");
  const [steps, setSteps] = useState<Step[]>(start?.steps ?? [step("email", 0)]);
  const [quiet, setQuiet] = useState(start?.quiet_days ?? 60);
  const save = useSaveSequence();
  const templates = useTemplates().data?.templates ?? [];
  const set = (index: number, change: Partial<Step>) =>
    setSteps((now) => now.map((item, at) => (at === index ? { ...item, ...change } : item)));
  return (
    <form
      className="mt-3 max-w-4xl border border-line bg-sheet p-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(
          { id: start?.id ?? 0, name, steps, quiet_days: quiet, by: author() },
          { onSuccess: onDone },
        );
      }}
    >
      <label>
        Name{" "}
        <input value={name} onChange={(event) => setName(event.target.value)} className="ml-1 w-72 box" />
      </label>
      <table className="mt-2 w-full">
        <thead className="text-left text-soft">
          <tr>
            {["No.", "Wait (working days)", "Then", "When", "Template", "Change"].map((head) => (
              <th key={head} scope="col" className="px-1 py-0.5 font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {steps.map((item, index) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: steps have no other name
            <tr key={index}>
              <td className="px-1 text-right text-soft tabular-nums">{index + 1}</td>
              <td className="px-1 py-0.5">
                <input
                  type="number"
                  min={0}
                  max={90}
                  aria-label={`Days before step ${index + 1}`}
                  value={item.after_days}
                  onChange={(event) => set(index, { after_days: Number(event.target.value) || 0 })}
                  className="w-16 box"
                />
              </td>
              <td className="px-1">
                <select
                  aria-label={`Kind of step ${index + 1}`}
                  value={item.kind}
                  onChange={(event) =>
                    set(index, { kind: event.target.value as Step["kind"], templates: [] })
                  }
                  className="box"
                >
                  {KINDS.map(([kind, words]) => (
                    <option key={kind} value={kind}>
                      {words}
                    </option>
                  ))}
                </select>
              </td>
              <td className="px-1">
                <select
                  aria-label={`Condition of step ${index + 1}`}
                  value={item.when}
                  onChange={(event) => set(index, { when: event.target.value as When })}
                  className="box"
                >
                  {WHENS.map(([when, words]) => (
                    <option key={when} value={when}>
                      {words}
                    </option>
                  ))}
                </select>
              </td>
              <td className="px-1">
                {item.kind === "email" ? (
                  <select
                    aria-label={`Template of step ${index + 1}`}
                    value={item.templates?.[0] ?? ""}
                    onChange={(event) =>
                      set(index, { templates: event.target.value ? [event.target.value] : [] })
                    }
                    className="w-56 box"
                  >
                    <option value="">one that fits their best offer</option>
                    {templates
                      .filter((found) => found.template.kind === "email")
                      .map((found) => (
                        <option key={found.template.id} value={found.template.id}>
                          {found.template.service ? `${found.template.service.replaceAll("_", " ")}: ` : ""}
                          {found.template.name}
                        </option>
                      ))}
                  </select>
                ) : (
                  <span className="text-soft">–</span>
                )}
              </td>
              <td className="px-1 text-right">
                {steps.length > 1 && (
                  <Button look="quiet" onClick={() => setSteps(steps.filter((_, at) => at !== index))}>
                    Remove
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1.5">
        <Button
          look="quiet"
          disabled={steps.length >= 12}
          onClick={() => setSteps([...steps, step("email", 3)])}
        >
          Add a step
        </Button>
      </p>
      <label className="mt-2 block">
        Leave out anybody contacted within{" "}
        <input
          type="number"
          min={0}
          max={3650}
          value={quiet}
          onChange={(event) => setQuiet(Number(event.target.value) || 0)}
          className="w-20 box"
        />{" "}
        days
      </label>
      <p className="mt-2 flex gap-1.5">
        <Button type="submit" look="main" disabled={save.isPending || !name.trim()}>
          Save
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </p>
      <ErrorNote error={save.error} />
    </form>
  );
}
