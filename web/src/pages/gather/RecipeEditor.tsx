import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { type Draft, useSaveRecipe } from "../../queries/gathering";
import FoundRows from "./FoundRows";
import PlanAccess from "./RecipeAccess";

type Rule = Schemas["RuleOfPlan"];
const FIELDS =
  "name category street town postcode phone email website rating reviews hours lat lon source_id".split(" ");
const CLEANERS = [
  ["", "unchanged"],
  ["digits", "digits only"],
  ["number", "first number"],
  ["before", "text before"],
  ["after", "text after"],
];

interface Props {
  plan: Draft;
  rows: Record<string, string>[];
  total: number;
  next: string;
  onChange: (plan: Draft) => void;
  onTry: (() => void) | undefined;
  onDone: () => void;
}

/** A recipe, column by column, above the rows that it reads. */
export default function PlanEditor({ plan, rows, total, next, onChange, onTry, onDone }: Props) {
  const save = useSaveRecipe();
  const set = (index: number, rule: Rule) =>
    onChange({ ...plan, fields: plan.fields.with(index, { ...plan.fields[index], ...rule }) });
  const line = (name: "title" | "address" | "item" | "next", label: string) => (
    <label className="contents" key={name}>
      <span className="text-soft">{label}</span>
      <input
        value={plan[name]}
        onChange={(event) => onChange({ ...plan, [name]: event.target.value })}
        className="box"
      />
    </label>
  );
  return (
    <section aria-label="Recipe" className="mt-5 max-w-[980px]">
      <div className="grid grid-cols-[170px_1fr] items-center gap-x-3 gap-y-1">
        {line("title", "Name")}
        {line("address", "Search address")}
        {line("item", "Element that repeats")}
        {line("next", "Link to the next page")}
      </div>
      <details className="mt-1" open={Object.keys(plan.form).length > 0 || plan.log_in !== ""}>
        <summary className="cursor-pointer text-leaf-dark">Search form, log-in, further rows</summary>
        <PlanAccess plan={plan} onChange={onChange} />
      </details>
      <h2 className="mt-4 text-[14px]">Fields read from each item</h2>
      <table className="mt-1 w-full bg-sheet">
        <tbody>
          {plan.fields.map((rule, index) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rules have no name of their own
            <tr key={index} className="border-b border-faint">
              <td className="px-2 py-1">
                <select
                  aria-label={`Field ${index + 1}`}
                  value={rule.field}
                  onChange={(event) => set(index, { ...rule, field: event.target.value })}
                  className="box"
                >
                  {FIELDS.map((field) => (
                    <option key={field}>{field}</option>
                  ))}
                </select>
              </td>
              <td className="px-2 py-1">
                <input
                  aria-label={`Selector for ${rule.field}`}
                  value={rule.selector}
                  onChange={(event) => set(index, { ...rule, selector: event.target.value })}
                  className={`w-full box`}
                />
              </td>
              <td className="px-2 py-1">
                <select
                  aria-label={`Part of ${rule.field}`}
                  value={rule.take}
                  onChange={(event) => set(index, { ...rule, take: event.target.value })}
                  className="box"
                >
                  {["text", "link", "content"].map((take) => (
                    <option key={take} value={take}>
                      {take === "link" ? "the link’s target" : take === "text" ? "its text" : "its content"}
                    </option>
                  ))}
                </select>
              </td>
              <td className="flex gap-1 px-2 py-1">
                <select
                  aria-label={`Clean ${rule.field}`}
                  value={rule.clean}
                  onChange={(event) => set(index, { ...rule, clean: event.target.value })}
                  className="box"
                >
                  {CLEANERS.map(([id, label]) => (
                    <option key={id} value={id}>
                      {label}
                    </option>
                  ))}
                </select>
                {(rule.clean === "before" || rule.clean === "after") && (
                  <input
                    aria-label={`Mark in ${rule.field}`}
                    value={rule.mark}
                    onChange={(event) => set(index, { ...rule, mark: event.target.value })}
                    className={`w-14 box`}
                  />
                )}
              </td>
              <td className="px-2 py-1 text-right">
                <Button
                  look="quiet"
                  onClick={() =>
                    onChange({ ...plan, fields: plan.fields.filter((_, other) => other !== index) })
                  }
                >
                  Remove
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 flex items-center gap-2">
        <Button
          onClick={() =>
            onChange({
              ...plan,
              fields: [
                ...plan.fields,
                { field: "category", selector: "", take: "text", clean: "", mark: "" },
              ],
            })
          }
        >
          Add a field
        </Button>
        {onTry && <Button onClick={onTry}>Read the page again</Button>}
        <Button
          look="main"
          disabled={save.isPending}
          onClick={() => save.mutate(plan, { onSuccess: onDone })}
        >
          Save as a source
        </Button>
        <Button look="quiet" onClick={onDone}>
          Cancel
        </Button>
      </p>
      <ErrorNote error={save.error} />
      {rows.length > 0 && (
        <>
          <h2 className="mt-4 text-[14px]">
            Rows found <span className="font-sans font-normal text-soft">{total} on this page</span>
          </h2>
          <p className="text-soft">{next ? `The next page: ${next}` : "No next page found."}</p>
          <FoundRows fields={plan.fields.map((rule) => rule.field)} rows={rows} />
        </>
      )}
    </section>
  );
}
