import { useState } from "react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { count, day } from "../../lib/format";
import { usePeopleData, useSaveBasis } from "../../queries/peopleData";
import Nav from "../agency/Nav";
import OnePerson from "./OnePerson";

/** What is kept of people, why and how long; and one person's data, found, given out or erased. */
export default function PeopleData() {
  const register = usePeopleData();
  const found = register.data;
  return (
    <div className="flex h-full">
      <Nav title="People’s data" />
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard */}
      <section aria-label="People’s data" tabIndex={0} className="min-w-0 flex-1 overflow-y-auto px-6 py-4">
        <h1 className="text-lg">People’s data</h1>
        <OnePerson />
        <ErrorNote error={register.error} />
        {found && (
          <>
            <h2 className="mt-6 text-[15px]">What is kept</h2>
            <table className="mt-1 w-full max-w-3xl">
              <thead className="text-left text-soft">
                <tr>
                  <th className="font-normal">Data</th>
                  <th className="font-normal">Comes from</th>
                  <th className="text-right font-normal">How many</th>
                  <th className="pl-6 font-normal">Oldest from</th>
                </tr>
              </thead>
              <tbody>
                {found.kinds.map((item) => (
                  <tr key={item.kind + item.origin} className="border-t border-line">
                    <td className="py-1 pr-3">{item.kind}</td>
                    <td className="py-1 pr-3 text-soft">{item.origin}</td>
                    <td className="py-1 text-right tabular-nums">{count(item.count)}</td>
                    <td className="py-1 pl-6 text-soft">{item.since ? day(item.since) : "–"}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            <h2 className="mt-6 text-[15px]">How long</h2>
            <p>
              {found.months
                ? `People’s data of businesses that nobody touched for ${found.months} months are removed. `
                : "Nothing is removed automatically. "}
              <Link to="/settings#retention_months" className="text-leaf-dark underline">
                Change
              </Link>
            </p>
            <Bases bases={found.bases} />
          </>
        )}
      </section>
    </div>
  );
}

function Bases({ bases }: { bases: { country: string; text: string }[] }) {
  const save = useSaveBasis();
  const [country, setCountry] = useState("");
  const [text, setText] = useState("");
  const put = (body: { country: string; text: string }) =>
    save.mutate(body, {
      onSuccess: () => {
        setCountry("");
        setText("");
      },
    });
  return (
    <>
      <h2 className="mt-6 text-[15px]">Why it may be kept</h2>
      <p className="text-soft">
        Your own notes on the legal basis, by country. They are for you and for anybody who asks you.
      </p>
      <ul className="mt-1 max-w-3xl">
        {bases.map((item) => (
          <li key={item.country} className="flex gap-3 border-t border-line py-1">
            <span className="w-28 shrink-0 font-medium">{item.country || "Elsewhere"}</span>
            <span className="min-w-0 flex-1">{item.text}</span>
            <Button
              look="quiet"
              onClick={() => {
                setCountry(item.country);
                setText(item.text);
              }}
            >
              Edit
            </Button>
            <Button look="quiet" onClick={() => put({ country: item.country, text: "" })}>
              Delete
            </Button>
          </li>
        ))}
      </ul>
      <form
        aria-label="Note on the legal basis"
        className="mt-2 flex max-w-3xl items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          put({ country, text });
        }}
      >
        <label>
          <span className="block text-soft">Country, two letters</span>
          <input
            value={country}
            maxLength={2}
            placeholder="all others"
            onChange={(event) => setCountry(event.target.value.toUpperCase())}
            className="w-32 box"
          />
        </label>
        <label className="flex-1">
          <span className="block text-soft">Note</span>
          <input value={text} onChange={(event) => setText(event.target.value)} className="w-full box" />
        </label>
        <Button type="submit" disabled={!text || save.isPending}>
          Save
        </Button>
      </form>
      <ErrorNote error={save.error} />
    </>
  );
}
