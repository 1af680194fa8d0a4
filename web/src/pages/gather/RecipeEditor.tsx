import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { count } from "../../lib/format";
import { type Draft, useSaveRecipe } from "../../queries/gathering";
import FoundRows from "./FoundRows";
import OwnPage from "./OwnPage";
import PointAtPage from "./PointAtPage";
import PlanAccess from "./RecipeAccess";
import RecipeFields from "./RecipeFields";
import type { RecipeTrial } from "./useRecipeTrial";

interface Props {
  plan: Draft;
  trial: RecipeTrial;
  onDone: () => void;
}

/** A recipe in the making: the page to point at, the rows that it reads, and how it reads them. */
export default function RecipeEditor({ plan, trial, onDone }: Props) {
  const save = useSaveRecipe();
  const { found, setPlan } = trial;
  const line = (name: "title" | "address" | "item" | "next", label: string) => (
    <label className="contents" key={name}>
      <span className="text-soft">{label}</span>
      <input
        value={plan[name]}
        onChange={(event) => setPlan({ ...plan, [name]: event.target.value })}
        className="box"
      />
    </label>
  );
  const fields = plan.fields.map((rule) => rule.field);
  return (
    <section aria-label="Recipe" className="mt-4">
      <div className="flex items-center gap-2">
        <label className="flex items-center gap-2">
          <span className="text-soft">Name</span>
          <input
            value={plan.title}
            onChange={(event) => setPlan({ ...plan, title: event.target.value })}
            className="box w-64"
          />
        </label>
        <Button
          look="main"
          disabled={save.isPending || (plan.item === "" && !plan.structured)}
          onClick={() => save.mutate(plan, { onSuccess: onDone })}
        >
          Save as a source
        </Button>
        <Button look="quiet" onClick={onDone}>
          Cancel
        </Button>
      </div>
      <ErrorNote error={save.error} />
      {found && (
        <>
          <h2 className="mt-3 text-[14px]">
            Rows found{" "}
            <span className="font-sans font-normal text-soft">
              {count(found.total)} on this page{" · "}
              {found.next ? `the next page: ${found.next}` : "no next page found"}
            </span>
          </h2>
          {found.why && <p className="text-acorn">{found.why}</p>}
          {found.rows.length > 0 && (
            <div className="max-h-48 overflow-y-auto">
              <FoundRows fields={fields} rows={found.rows} />
            </div>
          )}
          <h2 className="mt-3 text-[14px]">The page</h2>
          {plan.structured && (
            <p className="text-soft">
              The page describes its businesses for programs, and that is what is read. To read what it shows
              instead, click a business.
            </p>
          )}
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={plan.results}
              onChange={(event) => setPlan({ ...plan, results: event.target.checked })}
            />
            These are results of a web search: read each business from its own site, leave directories out
          </label>
          <PointAtPage
            found={found}
            title="The page of results"
            onClick={(clicked) => trial.show(plan, clicked)}
          />
          <OwnPage plan={plan} trial={trial} />
        </>
      )}
      <details className="mt-3" open={!found}>
        <summary className="cursor-pointer text-leaf-dark">
          How it is read: addresses, selectors, log-in
        </summary>
        <div className="mt-1 grid max-w-[980px] grid-cols-[170px_1fr] items-center gap-x-3 gap-y-1">
          {line("address", "Search address")}
          {line("item", "Element that repeats")}
          {line("next", "Link to the next page")}
        </div>
        <PlanAccess plan={plan} onChange={setPlan} />
        <div className="max-w-[980px]">
          <RecipeFields
            title="Fields of each business"
            rules={plan.fields}
            onChange={(rules) => setPlan({ ...plan, fields: rules })}
          />
        </div>
        {found && (
          <p className="mt-2 flex gap-2">
            <Button onClick={() => trial.show(plan)}>Read the page by these</Button>
            <Button onClick={() => trial.read(plan)}>Fetch the page again</Button>
          </p>
        )}
      </details>
    </section>
  );
}
