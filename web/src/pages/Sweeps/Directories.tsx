import { type FormEvent, useEffect, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Button, Empty, ErrorNote } from "../../components/Bits";
import { useReadingPlans, useSavePlan, useTryPage } from "../../queries/gathering";

type Plan = Schemas["ReadingPlanTold"];
type Rule = Schemas["RuleOfPlan"];
const FIELDS =
  "name category street town postcode phone email website rating reviews hours lat lon source_id".split(" ");
const CLEANERS = [
  ["", "as it stands"],
  ["digits", "digits only"],
  ["number", "first number"],
  ["before", "text before"],
  ["after", "text after"],
];
const BOX = "rounded-[3px] border border-line bg-white px-2 py-1 placeholder:text-soft";

/** Directories read by a plan: paste a page of results, see the rows, correct the columns, keep it as a source. */
export default function Directories() {
  const plans = useReadingPlans();
  const [plan, setPlan] = useState<Plan | null>(null);
  const [page, setPage] = useState({ address: "", term: "", place: "" });
  const attempt = useTryPage();
  useEffect(() => {
    document.title = "Directories – Open Acorn";
  }, []);
  const read = (by: Plan | null) => {
    const { id: _, ...body } = by ?? { id: 0 };
    attempt.mutate(
      { ...page, title: by?.title ?? "", plan: by ? (body as Schemas["ReadingPlanAsked"]) : null },
      { onSuccess: (found) => setPlan({ ...found.plan, id: by?.id ?? 0 }) },
    );
  };
  const find = (event: FormEvent) => {
    event.preventDefault();
    read(null);
  };
  return (
    <div className="h-full overflow-y-auto px-8 py-5">
      <Link to="/sweeps" className="text-leaf-dark hover:underline">
        ← Sweeps
      </Link>
      <h1 className="mt-1 text-xl">Directories</h1>
      <p className="max-w-2xl text-soft">
        Search for a trade and a town on any directory’s own site, then paste the address of the page of
        results. The list on it is found by itself.
      </p>
      <form className="mt-3 flex max-w-[980px] flex-wrap items-end gap-2" onSubmit={find}>
        {(
          [
            ["address", "Address of a page of results", "flex-1 min-w-80"],
            ["term", "Words you searched for", "w-40"],
            ["place", "Place you searched", "w-40"],
          ] as const
        ).map(([name, label, width]) => (
          <label key={name} className={width}>
            <span className="text-soft">{label}</span>
            <input
              value={page[name]}
              onChange={(event) => setPage({ ...page, [name]: event.target.value })}
              className={`block w-full ${BOX}`}
            />
          </label>
        ))}
        <Button type="submit" look="main" disabled={!page.address || attempt.isPending}>
          Find the list
        </Button>
      </form>
      <ErrorNote error={attempt.error} />
      {plan ? (
        <Editor
          plan={plan}
          rows={attempt.data?.rows ?? []}
          total={attempt.data?.total ?? 0}
          next={attempt.data?.next ?? ""}
          onChange={setPlan}
          onTry={page.address ? () => read(plan) : undefined}
          onDone={() => setPlan(null)}
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
                  <Button onClick={() => setPlan(kept)}>Correct</Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        plans.data && <Empty title="No directory yet">Paste a page of results above to add one.</Empty>
      )}
    </div>
  );
}

interface EditorProps {
  plan: Plan;
  rows: Record<string, string>[];
  total: number;
  next: string;
  onChange: (plan: Plan) => void;
  onTry: (() => void) | undefined;
  onDone: () => void;
}

function Editor({ plan, rows, total, next, onChange, onTry, onDone }: EditorProps) {
  const save = useSavePlan();
  const set = (index: number, rule: Rule) =>
    onChange({ ...plan, fields: plan.fields.with(index, { ...plan.fields[index], ...rule }) });
  const line = (name: "title" | "address" | "item" | "next", label: string) => (
    <label className="contents" key={name}>
      <span className="text-soft">{label}</span>
      <input
        value={plan[name]}
        onChange={(event) => onChange({ ...plan, [name]: event.target.value })}
        className={BOX}
      />
    </label>
  );
  return (
    <section aria-label="Reading plan" className="mt-5 max-w-[980px]">
      <div className="grid grid-cols-[170px_1fr] items-center gap-x-3 gap-y-1">
        {line("title", "Name")}
        {line("address", "Search address")}
        {line("item", "Element that repeats")}
        {line("next", "Link to the next page")}
      </div>
      <h2 className="mt-4 text-[14px]">What is read off each item</h2>
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
                  className={BOX}
                >
                  {FIELDS.map((field) => (
                    <option key={field}>{field}</option>
                  ))}
                </select>
              </td>
              <td className="px-2 py-1">
                <input
                  aria-label={`Where ${rule.field} stands`}
                  value={rule.selector}
                  onChange={(event) => set(index, { ...rule, selector: event.target.value })}
                  className={`w-full ${BOX}`}
                />
              </td>
              <td className="px-2 py-1">
                <select
                  aria-label={`What of ${rule.field}`}
                  value={rule.take}
                  onChange={(event) => set(index, { ...rule, take: event.target.value })}
                  className={BOX}
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
                  className={BOX}
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
                    className={`w-14 ${BOX}`}
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
                  Drop
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
          Keep as a source
        </Button>
        <Button look="quiet" onClick={onDone}>
          Leave it
        </Button>
      </p>
      <ErrorNote error={save.error} />
      {rows.length > 0 && (
        <>
          <h2 className="mt-4 text-[14px]">
            Rows it reads <span className="font-sans font-normal text-soft">{total} on this page</span>
          </h2>
          <p className="text-soft">{next ? `The next page: ${next}` : "No next page is seen."}</p>
          <section
            aria-label="Rows it reads"
            // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard
            tabIndex={0}
            className="mt-1 overflow-x-auto bg-sheet"
          >
            <table className="w-full">
              <thead className="text-left text-soft">
                <tr className="border-b border-line">
                  {plan.fields.map((rule) => (
                    <th key={rule.field} scope="col" className="px-2 py-1 font-normal">
                      {rule.field}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {rows.map((row, index) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: rows are shown as they stand on the page
                  <tr key={index} className="border-b border-faint">
                    {plan.fields.map((rule) => (
                      <td key={rule.field} className="max-w-56 truncate px-2 py-0.5">
                        {row[rule.field] ?? <span className="text-soft">–</span>}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        </>
      )}
    </section>
  );
}
