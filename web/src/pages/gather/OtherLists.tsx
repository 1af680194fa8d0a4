import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { count } from "../../lib/format";

const SURE = 0.85;

interface Props {
  /** How likely the list shown is the one meant, null where it was given. */
  sure: number | null;
  others: Schemas["OtherList"][];
  onChoose: (plan: Schemas["RecipeResponse"]) => void;
}

/** How sure the list found is, and the further lists of the page, to choose another. */
export default function OtherLists({ sure, others, onChoose }: Props) {
  if (sure === null) return null;
  return (
    <div className="mt-3 max-w-[980px]">
      <p className="text-soft">
        {sure >= SURE
          ? "This is very likely the list of the page."
          : "This may be the list of the page: check its rows."}
      </p>
      {others.length > 0 && (
        <section aria-label="Other lists on this page" className="mt-1">
          <h2 className="text-[14px]">Other lists on this page</h2>
          <ul>
            {others.map((other) => (
              <li key={other.plan.item} className="flex items-baseline gap-2 py-0.5">
                <Button onClick={() => onChoose(other.plan)}>Use this one</Button>
                <span className="min-w-0 truncate">
                  {count(other.total)} rows: {other.names.join(" · ")}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
