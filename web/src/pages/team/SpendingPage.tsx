import { useState } from "react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { Loading } from "../../components/Loading";
import { count, day, money } from "../../lib/format";
import { useCurrency } from "../../queries/catalogue";
import { type AllowanceUse, useSetLimits, useSpending } from "../../queries/spending";
import Nav from "../agency/Nav";

const TITLES: Record<AllowanceUse["what"], string> = {
  requests: "Requests a month",
  cost: "Spent a month",
  contacts: "Contacts a day",
  exports: "Files a month",
};
const LOOKS: Record<string, string> = {
  near: "text-acorn font-semibold",
  reached: "text-alarm font-semibold",
};
const HEAD = "px-2 py-1 font-normal";

/** What was spent this month, by whom and on what; and what each may spend. */
export default function SpendingPage() {
  const query = useSpending();
  const currency = useCurrency();
  const found = query.data;
  return (
    <div className="flex h-full">
      <Nav title="Spending" />
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard */}
      <section aria-label="Spending" tabIndex={0} className="min-w-0 flex-1 overflow-y-auto px-6 py-4">
        <h1 className="text-lg">Spending</h1>
        <ErrorNote error={query.error} />
        {query.isPending && <Loading />}
        {found && (
          <>
            <p className="text-soft">
              This month: {count(found.requests)} requests to sources, {money(found.cost, currency, true)}.{" "}
              {found.won > 0
                ? `${count(found.won)} won, ${money(found.cost_per_won, currency, true)} spent for each.`
                : "Nothing was won yet this month."}
            </p>
            {found.people.length > 0 && <People people={found.people} currency={currency} />}
            <h2 className="mt-6 text-[15px]">By source</h2>
            {found.sources.length === 0 && <p className="text-soft">No source was asked this month.</p>}
            {found.sources.length > 0 && (
              <table className="mt-1 w-full max-w-3xl bg-sheet">
                <tbody>
                  {found.sources.map((one) => (
                    <tr key={one.source} className="border-b border-faint">
                      <th scope="row" className="px-2 py-1 text-left font-medium">
                        {one.title}
                      </th>
                      <td className="px-2 py-1 text-right">{count(one.requests)} requests</td>
                      <td className="px-2 py-1 text-right">{money(one.cost, currency, true)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
            {found.runs.length > 0 && (
              <>
                <h2 className="mt-6 text-[15px]">The dearest runs</h2>
                <table className="mt-1 w-full max-w-3xl bg-sheet">
                  <tbody>
                    {found.runs.map((one) => (
                      <tr key={one.id} className="border-b border-faint">
                        <th scope="row" className="px-2 py-1 text-left font-medium">
                          <Link className="hover:underline" to={`/sweeps/runs/${one.id}`}>
                            {one.sweep}
                          </Link>
                        </th>
                        <td className="px-2 py-1 text-soft">
                          {day(one.started_at)}
                          {one.person && `, ${one.person}`}
                        </td>
                        <td className="px-2 py-1 text-right">{count(one.requests)} requests</td>
                        <td className="px-2 py-1 text-right">{money(one.cost, currency, true)}</td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </>
            )}
          </>
        )}
      </section>
    </div>
  );
}

type Person = NonNullable<ReturnType<typeof useSpending>["data"]>["people"][number];

function People({ people, currency }: { people: Person[]; currency: string }) {
  return (
    <>
      <h2 className="mt-6 text-[15px]">By person</h2>
      <p className="text-soft">
        Enter a limit to stop somebody there. They are warned at 80 %. Empty: no limit.
      </p>
      <table className="mt-1 w-full max-w-4xl bg-sheet">
        <thead className="text-left text-soft">
          <tr className="border-b border-line">
            <th scope="col" className={HEAD}>
              Person
            </th>
            {Object.values(TITLES).map((title) => (
              <th key={title} scope="col" className={HEAD}>
                {title}
              </th>
            ))}
            <th scope="col" className={HEAD}>
              <span className="sr-only">Save</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {people.map((one) => (
            <Limits key={one.id} person={one} currency={currency} />
          ))}
        </tbody>
      </table>
    </>
  );
}

function Limits({ person, currency }: { person: Person; currency: string }) {
  const save = useSetLimits();
  const [draft, setDraft] = useState<Record<string, string>>({});
  const most = (use: AllowanceUse) => draft[use.what] ?? (use.most === null ? "" : String(use.most));
  const send = () => {
    const limits = Object.fromEntries(
      person.allowances.map((use) => [use.what, most(use) === "" ? null : Number(most(use))]),
    );
    save.mutate({ account: person.id, ...limits }, { onSuccess: () => setDraft({}) });
  };
  return (
    <tr className="border-b border-faint">
      <th scope="row" className="px-2 py-1 text-left font-medium">
        {person.name}
      </th>
      {person.allowances.map((use) => (
        <td key={use.what} className="px-2 py-1 whitespace-nowrap">
          <span className={LOOKS[use.state] ?? ""}>
            {use.what === "cost" ? money(use.used, currency, true) : count(use.used)}
          </span>{" "}
          <span className="text-soft">of</span>{" "}
          <input
            type="number"
            min={0}
            aria-label={`${TITLES[use.what]}, ${person.name}`}
            value={most(use)}
            placeholder="no limit"
            onChange={(event) => setDraft({ ...draft, [use.what]: event.target.value })}
            onKeyDown={(event) => event.key === "Enter" && send()}
            className="w-24 box"
          />
        </td>
      ))}
      <td className="px-2 py-1">
        <Button disabled={Object.keys(draft).length === 0 || save.isPending} onClick={send}>
          Save
        </Button>
        <ErrorNote error={save.error} />
      </td>
    </tr>
  );
}
