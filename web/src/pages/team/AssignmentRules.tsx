import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { count } from "../../lib/format";
import { useTrades } from "../../queries/catalogue";
import { useTerritories } from "../../queries/gathering";
import {
  type AssignmentRule,
  useAssignmentRules,
  useColleagues,
  useSaveAssignmentRules,
} from "../../queries/sharing";

const NEW: AssignmentRule = { trade: "", territory_id: null, people: [] };

/** Who gets businesses that are put on a list: by trade and territory, in turn. */
export default function AssignmentRules() {
  const query = useAssignmentRules();
  const save = useSaveAssignmentRules();
  const colleagues = useColleagues().data ?? [];
  const trades = useTrades().data ?? [];
  const territories = useTerritories().data ?? [];
  const [draft, setDraft] = useState<AssignmentRule[] | null>(null);
  const found = query.data;
  if (!found) return <ErrorNote error={query.error} />;
  const rules: AssignmentRule[] = draft ?? found.rules;
  const change = (at: number, part: Partial<AssignmentRule>) =>
    setDraft(rules.map((rule, place) => (place === at ? { ...rule, ...part } : rule)));
  const toggle = (at: number, name: string) => {
    const people = rules[at]?.people ?? [];
    change(at, {
      people: people.includes(name) ? people.filter((one) => one !== name) : [...people, name],
    });
  };
  return (
    <section aria-label="Assignment" className="mt-8 max-w-4xl">
      <h2 className="text-[15px]">Assignment</h2>
      <p className="text-soft">
        Businesses put on a list go to these people. The first rule that fits counts. The person with the
        fewest open businesses is next.
      </p>
      <ol className="mt-1">
        {rules.map((rule, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a rule is its place
          <li key={at} className="flex flex-wrap items-center gap-x-3 gap-y-1 border-t border-line py-1.5">
            <select
              aria-label={`Trade of rule ${at + 1}`}
              value={rule.trade}
              onChange={(event) => change(at, { trade: event.target.value })}
              className="w-44 box"
            >
              <option value="">Every trade</option>
              {trades.map((trade) => (
                <option key={trade.id} value={trade.id}>
                  {trade.plural}
                </option>
              ))}
            </select>
            <select
              aria-label={`Territory of rule ${at + 1}`}
              value={rule.territory_id ?? ""}
              onChange={(event) => change(at, { territory_id: Number(event.target.value) || null })}
              className="w-44 box"
            >
              <option value="">Everywhere</option>
              {territories.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}
                </option>
              ))}
            </select>
            <span className="text-soft">to</span>
            {colleagues.map((one) => (
              <label key={one.id} className="flex items-center gap-1">
                <input
                  type="checkbox"
                  checked={rule.people.includes(one.name)}
                  onChange={() => toggle(at, one.name)}
                />
                {one.name} <span className="text-soft">{count(found.open[one.name] ?? 0)}</span>
              </label>
            ))}
            <Button
              look="quiet"
              className="ml-auto"
              onClick={() => setDraft(rules.filter((_, place) => place !== at))}
            >
              Remove
            </Button>
          </li>
        ))}
      </ol>
      <p className="mt-1 flex gap-1.5">
        <Button onClick={() => setDraft([...rules, NEW])}>Add a rule</Button>
        {draft && (
          <>
            <Button
              look="main"
              disabled={save.isPending || draft.some((rule) => rule.people.length === 0)}
              onClick={() => save.mutate(draft, { onSuccess: () => setDraft(null) })}
            >
              Save
            </Button>
            <Button onClick={() => setDraft(null)}>Cancel</Button>
          </>
        )}
      </p>
      <ErrorNote error={save.error} />
    </section>
  );
}
