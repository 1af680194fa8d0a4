import type { Rules } from "../../api/client";

interface Props {
  rules: Rules;
  budget: number;
  onRules: (rules: Rules) => void;
  onBudget: (requests: number) => void;
}

const words = (text: string): string[] =>
  text
    .split(",")
    .map((word) => word.trimStart())
    .filter(Boolean);

const LISTS = [
  ["category_never", "Category never says"],
  ["name_never", "Name never says"],
  ["category_has", "Category says one of"],
] as const;

/** Which of those found to keep in view; the others stay, with their reason. */
export default function RulesForm({ rules, budget, onRules, onBudget }: Props) {
  const number = (text: string): number | null => (text.trim() ? Number(text.replace(/\D/g, "")) : null);
  return (
    <div className="grid grid-cols-[132px_1fr] items-center gap-x-2 gap-y-1">
      {LISTS.map(([name, label]) => (
        <label key={name} className="contents">
          <span>{label}</span>
          <input
            defaultValue={(rules[name] ?? []).join(", ")}
            placeholder="words, set off by commas"
            onChange={(event) => onRules({ ...rules, [name]: words(event.target.value) })}
            className="rounded-[3px] border border-line bg-white px-2 py-0.5 placeholder:text-soft"
          />
        </label>
      ))}
      <span>Reviews</span>
      <span className="flex items-center gap-1.5">
        {(["reviews_from", "reviews_to"] as const).map((name, index) => (
          <label key={name} className="flex items-center gap-1.5">
            {index === 0 ? "from" : "to"}
            <input
              inputMode="numeric"
              value={rules[name] ?? ""}
              onChange={(event) => onRules({ ...rules, [name]: number(event.target.value) })}
              className="w-16 rounded-[3px] border border-line bg-white px-2 py-0.5 text-right"
            />
          </label>
        ))}
      </span>
      <label className="contents">
        <span>Chains</span>
        <span className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={rules.independent ?? false}
            onChange={(event) => onRules({ ...rules, independent: event.target.checked })}
            className="accent-leaf"
          />
          leave out branches of chains
        </span>
      </label>
      <label className="contents">
        <span>Phone</span>
        <span className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={rules.needs?.includes("phone") ?? false}
            onChange={(event) => onRules({ ...rules, needs: event.target.checked ? ["phone"] : [] })}
            className="accent-leaf"
          />
          only with a phone listed
        </span>
      </label>
      <label className="contents">
        <span>Budget a source</span>
        <span className="flex items-center gap-1.5">
          <input
            inputMode="numeric"
            value={budget || ""}
            placeholder="none"
            onChange={(event) => onBudget(number(event.target.value) ?? 0)}
            className="w-20 rounded-[3px] border border-line bg-white px-2 py-0.5 text-right placeholder:text-soft"
          />
          requests at most
        </span>
      </label>
    </div>
  );
}
