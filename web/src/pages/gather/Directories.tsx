import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { useTitle } from "../../lib/useTitle";
import { type Draft, useRecipes, useTryRecipe } from "../../queries/gathering";
import OtherLists from "./OtherLists";
import PlanAccess from "./RecipeAccess";
import PlanEditor from "./RecipeEditor";

const UNREACHED: Draft = {
  id: 0,
  title: "",
  address: "",
  item: "",
  fields: [],
  next: "",
  limit: 50,
  pace_s: 1,
  header: "",
  form: {},
  more: "",
  log_in: "",
  log_in_form: {},
  user: "",
  secret_kept: false,
};

/** Directories read by a plan: paste a page of results, see the rows, correct the columns, keep it as a source. */
export default function Directories() {
  const plans = useRecipes();
  const [plan, setPlan] = useState<Draft | null>(null);
  const [page, setPage] = useState({ address: "", term: "", place: "" });
  const [access, setAccess] = useState(UNREACHED);
  const attempt = useTryRecipe();
  useTitle("Directories");
  const read = (by: Draft) => {
    const { id, secret_kept, ...body } = by;
    const reached = Object.keys(by.form).length > 0 || by.log_in || by.header;
    attempt.mutate(
      {
        ...page,
        title: by.title,
        plan: by.item || reached ? { ...body, title: by.title || "New directory" } : null,
        plan_id: id,
      },
      { onSuccess: (found) => setPlan({ ...found.plan, id, secret_kept, secret: by.secret }) },
    );
  };
  const find = (event: FormEvent) => {
    event.preventDefault();
    read({ ...access, address: page.address });
  };
  return (
    <div className="h-full overflow-y-auto px-8 py-5">
      <Link to="/sweeps" className="text-leaf-dark hover:underline">
        ← Sweeps
      </Link>
      <h1 className="mt-1 text-xl">Directories</h1>
      <p className="max-w-2xl text-soft">
        Search for a trade and a town on any directory’s own site, then paste the address of the results page.
        We find the list on it.
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
              value={page[name]}
              onChange={(event) => setPage({ ...page, [name]: event.target.value })}
              className={`block w-full box`}
            />
          </label>
        ))}
        <Button type="submit" look="main" disabled={!page.address || attempt.isPending}>
          Find the list
        </Button>
        {!plan && (
          <details className="w-full">
            <summary className="cursor-pointer text-leaf-dark">It needs a search form or a log-in</summary>
            <PlanAccess plan={access} onChange={setAccess} />
          </details>
        )}
      </form>
      <ErrorNote error={attempt.error} />
      {plan && attempt.data && (
        <OtherLists
          sure={attempt.data.sure ?? null}
          others={attempt.data.others ?? []}
          onChoose={(other) =>
            read({ ...other, id: plan.id, secret: plan.secret, secret_kept: plan.secret_kept })
          }
        />
      )}
      {plan ? (
        <PlanEditor
          plan={plan}
          rows={attempt.data?.rows ?? []}
          total={attempt.data?.total ?? 0}
          next={attempt.data?.next ?? ""}
          onChange={setPlan}
          onTry={page.address ? () => read(plan) : undefined}
          onDone={() => {
            setPlan(null);
            setAccess(UNREACHED);
          }}
        />
      ) : plans.data?.length ? (
        <table className="mt-5 w-full max-w-[980px] bg-sheet">
          <tbody>
            {plans.data.map((kept) => (
              <tr key={kept.id} className="border-b border-faint">
                <td className="px-3 py-1.5 font-medium">{kept.title}</td>
                <td className="px-3 py-1.5 text-soft">{kept.address}</td>
                <td className="px-3 py-1.5 text-soft">{kept.fields.map((rule) => rule.field).join(", ")}</td>
                <td className="px-3 py-1.5 text-right">
                  <Button onClick={() => setPlan(kept)}>Edit</Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        plans.data && <Empty title="No directory yet">Paste a results page above to add one.</Empty>
      )}
    </div>
  );
}
