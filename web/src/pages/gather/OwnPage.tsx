import { Button } from "../../components/Button";
import type { Draft } from "../../queries/gathering";
import FoundRows from "./FoundRows";
import PointAtPage from "./PointAtPage";
import RecipeFields from "./RecipeFields";
import type { RecipeTrial } from "./useRecipeTrial";

interface Props {
  plan: Draft;
  trial: RecipeTrial;
}

/** What is read on each business's own page of the directory, beyond what the list shows. */
export default function OwnPage({ plan, trial }: Props) {
  const { found, own, readOwn, setPlan } = trial;
  const details = plan.details ?? [];
  const first = found?.own_page ?? "";
  if (!plan.own_page)
    return (
      <p className="mt-3 text-soft">
        Is there a link to more about each business? Choose “A value”, then “the link to its own page”, and
        click that link.
      </p>
    );
  return (
    <section aria-label="Own page" className="mt-3">
      <h2 className="text-[14px]">Each business’s own page</h2>
      <p className="flex items-center gap-2">
        <Button disabled={!first || trial.attempt.isPending} onClick={() => readOwn(plan, first)}>
          Read the first one
        </Button>
        <Button look="quiet" onClick={() => setPlan({ ...plan, own_page: "", details: [] })}>
          Read the list only
        </Button>
        <span className="text-soft">One more request for each business: {first || "no link was found"}</span>
      </p>
      {own && (
        <>
          <FoundRows
            label="Found on its own page"
            fields={details.map((rule) => rule.field)}
            rows={own.rows}
          />
          <PointAtPage
            own
            found={own}
            title="One business’s own page"
            onClick={(clicked) => readOwn(plan, first, clicked)}
          />
        </>
      )}
      {details.length > 0 && (
        <RecipeFields
          title="Fields of its own page"
          rules={details}
          onChange={(rules) => setPlan({ ...plan, details: rules })}
        />
      )}
    </section>
  );
}
