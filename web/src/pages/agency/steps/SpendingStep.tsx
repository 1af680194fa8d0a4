import { useState } from "react";
import { Problem } from "../../../api/client";
import { Button } from "../../../components/Button";
import { ErrorNote } from "../../../components/ErrorNote";
import { sentence } from "../../../lib/format";
import { useSaveSettings, useSettings, type Values } from "../../../queries/agency";
import SettingRow from "../SettingRow";
import type { StepProps } from "../SetUp";

/** Limits of requests and money a month. */
export default function SpendingStep({ onNext }: StepProps) {
  const settings = useSettings();
  const save = useSaveSettings();
  const [draft, setDraft] = useState<Values>({});
  const section = settings.data?.sections.find((item) => item.id === "spending");
  const problem = save.error instanceof Problem ? save.error : null;
  return (
    <form
      className="mt-3 max-w-3xl"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(draft, { onSuccess: onNext });
      }}
    >
      {section?.fields.map((field) => (
        <SettingRow
          key={field.name}
          field={field}
          value={field.value}
          problem={problem?.where === field.name ? sentence(problem.what) : ""}
          onChange={(value) => setDraft((now) => ({ ...now, [field.name]: value }))}
        />
      ))}
      <p className="border-t border-faint py-2 text-soft">
        Each sweep can have limits of its own. The pace of each source is under Settings.
      </p>
      <Button type="submit" look="main" disabled={save.isPending}>
        Save and continue
      </Button>
      <ErrorNote error={settings.error ?? save.error} />
    </form>
  );
}
