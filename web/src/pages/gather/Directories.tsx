import type { FormEvent } from "react";
import { useState } from "react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { useTitle } from "../../lib/useTitle";
import { useRecipes } from "../../queries/gathering";
import OtherLists from "./OtherLists";
import PlanAccess from "./RecipeAccess";
import RecipeEditor from "./RecipeEditor";
import RecipeTable from "./RecipeTable";
import StartFrom from "./StartFrom";
import TakeRecipe from "./TakeRecipe";
import { UNREACHED, useRecipeTrial } from "./useRecipeTrial";

/** Directories read by a recipe: paste a page of results, see its rows, point at what is missing, keep it as a source. */
export default function Directories() {
  const recipes = useRecipes();
  const trial = useRecipeTrial();
  const { asked, setAsked, plan, setPlan, found, attempt } = trial;
  const [access, setAccess] = useState(UNREACHED);
  useTitle("Directories");
  const find = (event: FormEvent) => {
    event.preventDefault();
    // a shipped recipe has another’s address until a page of the directory’s own is read
    const address = plan && !/\.example\//.test(plan.address) ? plan.address : asked.address;
    trial.read({ ...(plan ?? access), address });
  };
  const done = () => {
    trial.close();
    setAccess(UNREACHED);
  };
  return (
    <div className="h-full overflow-y-auto px-8 py-5">
      <Link to="/sweeps" className="text-leaf-dark hover:underline">
        ← Sweeps
      </Link>
      <h1 className="mt-1 text-xl">Directories</h1>
      <p className="max-w-2xl text-soft">
        Search for a trade and a town on any directory’s own site, then paste the address of the results page.
        We find the list on it; what we miss you point at.
      </p>
      <form className="mt-3 flex max-w-[980px] flex-wrap items-end gap-2" onSubmit={find}>
        {(
          [
            ["address", "Address of a results page", "flex-1 min-w-80"],
            ["term", "Words you searched for", "w-40"],
            ["place", "Place you searched", "w-40"],
          ] as const
        ).map(([name, label, width]) => (
          <label key={name} className={width}>
            <span className="text-soft">{label}</span>
            <input
              value={asked[name]}
              onChange={(event) => setAsked({ ...asked, [name]: event.target.value })}
              className="box block w-full"
            />
          </label>
        ))}
        <Button type="submit" look="main" disabled={!asked.address || attempt.isPending}>
          {attempt.isPending ? "Reading…" : plan ? "Read this page" : "Find the list"}
        </Button>
        {!plan && (
          <StartFrom kind="directory" onChoose={({ directory }) => directory && setPlan(directory)} />
        )}
        {!plan && (
          <details className="w-full">
            <summary className="cursor-pointer text-leaf-dark">
              It needs a search form, a log-in or a browser
            </summary>
            <PlanAccess plan={access} onChange={setAccess} />
          </details>
        )}
      </form>
      <ErrorNote error={attempt.error} />
      {plan && found && (
        <OtherLists
          sure={found.sure ?? null}
          others={found.others ?? []}
          onChoose={(other) =>
            trial.show({ ...other, id: plan.id, secret: plan.secret, secret_kept: plan.secret_kept })
          }
        />
      )}
      {plan ? (
        <RecipeEditor plan={plan} trial={trial} onDone={done} />
      ) : (
        <>
          {recipes.data?.length ? (
            <RecipeTable recipes={recipes.data} onEdit={setPlan} />
          ) : (
            recipes.data && <Empty title="No directory yet">Paste a results page above to add one.</Empty>
          )}
          <TakeRecipe />
        </>
      )}
    </div>
  );
}
