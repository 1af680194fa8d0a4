import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { fieldName } from "../../lib/fields";
import { useRecipeChoices } from "../../queries/gathering";

type Rule = Schemas["RuleOfPlan"];
const CLEANED: Record<string, string> = {
  "": "unchanged",
  digits: "digits only",
  number: "first number",
  before: "text before",
  after: "text after",
};
const TAKEN: Record<string, string> = {
  text: "its text",
  link: "the link’s target",
  content: "its content",
};

interface Props {
  title: string;
  rules: Rule[];
  onChange: (rules: Rule[]) => void;
}

/** Rules for fields, one a line: where each is, what of it is taken, and how it is cleaned. */
export default function RecipeFields({ title, rules, onChange }: Props) {
  const choices = useRecipeChoices();
  const set = (index: number, change: Partial<Rule>) =>
    onChange(rules.with(index, { ...(rules[index] as Rule), ...change }));
  const pick = (label: string, value: string, options: [string, string][], change: (to: string) => void) => (
    <select aria-label={label} value={value} onChange={(event) => change(event.target.value)} className="box">
      {options.map(([id, text]) => (
        <option key={id} value={id}>
          {text}
        </option>
      ))}
    </select>
  );
  const fields = choices.data?.fields ?? rules.map((rule) => rule.field);
  return (
    <>
      <h3 className="mt-3 font-medium">{title}</h3>
      <table className="mt-1 w-full bg-sheet">
        <tbody>
          {rules.map((rule, index) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rules have no name of their own
            <tr key={index} className="border-b border-faint">
              <td className="px-2 py-1">
                {pick(
                  `Field ${index + 1}`,
                  rule.field,
                  fields.map((name) => [name, fieldName(name)]),
                  (field) => set(index, { field }),
                )}
              </td>
              <td className="w-full px-2 py-1">
                <input
                  aria-label={`Selector for ${rule.field}`}
                  value={rule.selector}
                  onChange={(event) => set(index, { selector: event.target.value })}
                  className="box w-full"
                />
              </td>
              <td className="px-2 py-1">
                {pick(
                  `Part of ${rule.field}`,
                  rule.take ?? "text",
                  Object.entries({
                    ...TAKEN,
                    [rule.take ?? "text"]: TAKEN[rule.take ?? "text"] ?? rule.take ?? "",
                  }),
                  (take) => set(index, { take }),
                )}
              </td>
              <td className="flex gap-1 px-2 py-1">
                {pick(
                  `Clean ${rule.field}`,
                  rule.clean ?? "",
                  (choices.data?.cleaners ?? [rule.clean ?? ""]).map((id) => [id, CLEANED[id] ?? id]),
                  (clean) => set(index, { clean }),
                )}
                {(rule.clean === "before" || rule.clean === "after") && (
                  <input
                    aria-label={`Mark in ${rule.field}`}
                    value={rule.mark}
                    onChange={(event) => set(index, { mark: event.target.value })}
                    className="box w-14"
                  />
                )}
              </td>
              <td className="px-2 py-1 text-right">
                <Button look="quiet" onClick={() => onChange(rules.filter((_, other) => other !== index))}>
                  Remove
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Button
        className="mt-1"
        onClick={() =>
          onChange([...rules, { field: "category", selector: "", take: "text", clean: "", mark: "" }])
        }
      >
        Add a field
      </Button>
    </>
  );
}
