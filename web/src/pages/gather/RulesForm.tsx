import type { Rules } from "../../api/client";

interface Props {
  rules: Rules;
  onRules: (rules: Rules) => void;
}

const words = (text: string): string[] =>
  text
    .split(",")
    .map((word) => word.trimStart())
    .filter(Boolean);

const LISTS = [
  ["category_has", "Category contains one of"],
  ["category_never", "Category must not contain"],
  ["name_never", "Name must not contain"],
  ["pages_any", "Pages mention any of"],
  ["pages_all", "Pages mention all of"],
  ["pages_never", "Pages must not mention"],
] as const;

const RANGES = [
  ["reviews", "Reviews"],
  ["rating", "Rating"],
  ["price", "Price band, 1 to 4"],
  ["staff", "Staff"],
  ["revenue", "Revenue a year"],
] as const;

const ATTRIBUTES = ["phone", "website", "email", "street", "hours"];

/** Which of those found to keep in view; the others stay, with their reason. What is not known rejects nobody. */
export default function RulesForm({ rules, onRules }: Props) {
  const number = (text: string): number | null => {
    const value = Number.parseFloat(text.replace(/[^\d.]/g, ""));
    return Number.isNaN(value) ? null : value;
  };
  const set = (more: Rules) => onRules({ ...rules, ...more });
  return (
    <div className="grid grid-cols-[132px_1fr] items-center gap-x-2 gap-y-1">
      {LISTS.map(([name, label]) => (
        <label key={name} className="contents">
          <span>{label}</span>
          <input
            defaultValue={(rules[name] ?? []).join(", ")}
            placeholder="words, separated by commas"
            onChange={(event) => set({ [name]: words(event.target.value) })}
            className="box py-0.5"
          />
        </label>
      ))}
      {RANGES.map(([name, label]) => (
        <fieldset key={name} className="contents">
          <legend className="float-left contents">
            <span>{label}</span>
          </legend>
          <span className="flex items-center gap-1.5">
            {(["from", "to"] as const).map((end) => (
              <label key={end} className="flex items-center gap-1.5">
                {end}
                <input
                  inputMode="decimal"
                  aria-label={`${label} ${end}`}
                  defaultValue={rules[`${name}_${end}`] ?? ""}
                  onChange={(event) => set({ [`${name}_${end}`]: number(event.target.value) })}
                  className={`w-20 text-right box`}
                />
              </label>
            ))}
          </span>
        </fieldset>
      ))}
      {(["founded_from", "founded_to"] as const).map((name) => (
        <label key={name} className="contents">
          <span>{name === "founded_from" ? "Trading since" : "… latest"}</span>
          <input
            type="date"
            value={rules[name] ?? ""}
            onChange={(event) => set({ [name]: event.target.value })}
            className="box py-0.5"
          />
        </label>
      ))}
      <label className="contents">
        <span>New within</span>
        <span className="flex items-center gap-1.5">
          <input
            inputMode="numeric"
            defaultValue={rules.new_weeks ?? ""}
            onChange={(event) => set({ new_weeks: number(event.target.value) || null })}
            className={`w-20 text-right box`}
          />
          weeks
        </span>
      </label>
      {ATTRIBUTES.map((attribute) => (
        <label key={attribute} className="contents">
          <span className="first-letter:uppercase">{attribute === "email" ? "E-mail" : attribute}</span>
          <select
            value={
              rules.needs?.includes(attribute) ? "needs" : rules.lacks?.includes(attribute) ? "lacks" : ""
            }
            onChange={(event) => {
              const without = (list: string[] | undefined) =>
                (list ?? []).filter((item) => item !== attribute);
              const next = { needs: without(rules.needs), lacks: without(rules.lacks) };
              if (event.target.value === "needs") next.needs.push(attribute);
              if (event.target.value === "lacks") next.lacks.push(attribute);
              set(next);
            }}
            className="box py-0.5"
          >
            <option value="">listed or not</option>
            <option value="needs">must be listed</option>
            <option value="lacks">must not be listed</option>
          </select>
        </label>
      ))}
      <label className="contents">
        <span>Chains</span>
        <span className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={rules.independent ?? false}
            onChange={(event) => set({ independent: event.target.checked })}
            className="accent-leaf"
          />
          exclude branches of chains
        </span>
      </label>
    </div>
  );
}
