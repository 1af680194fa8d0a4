import { useState } from "react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { count, day } from "../../lib/format";
import { type PersonAsked, useErasePerson, useExportPerson, useFindPerson } from "../../queries/peopleData";

const split = (text: string) =>
  text
    .split(/[,;\n]/)
    .map((part) => part.trim())
    .filter(Boolean);

/** Somebody who asks what is kept of them: found in every table and file, given out, or erased. */
export default function OnePerson() {
  const [emails, setEmails] = useState("");
  const [phones, setPhones] = useState("");
  const [names, setNames] = useState("");
  const [sure, setSure] = useState(false);
  const find = useFindPerson();
  const give = useExportPerson();
  const erase = useErasePerson();
  const asked: PersonAsked = { emails: split(emails), phones: split(phones), names: split(names) };
  const entered = emails || phones || names;
  const found = find.data;
  const fields = [
    ["E-mail addresses", emails, setEmails],
    ["Phone numbers", phones, setPhones],
    ["First and last name", names, setNames],
  ] as const;
  return (
    <>
      <p className="max-w-3xl text-soft">
        Somebody asks what you keep of them, or wants to be erased: enter what you know of them. Several are
        separated by commas.
      </p>
      <form
        aria-label="One person"
        className="mt-2 flex max-w-4xl items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          setSure(false);
          erase.reset();
          find.mutate(asked);
        }}
      >
        {fields.map(([label, value, set]) => (
          <label key={label} className="flex-1">
            <span className="block text-soft">{label}</span>
            <input
              value={value}
              onChange={(event) => {
                set(event.target.value);
                find.reset();
                setSure(false);
              }}
              className="w-full box"
            />
          </label>
        ))}
        <Button type="submit" look="main" disabled={!entered || find.isPending}>
          {find.isPending ? "Looking …" : "Find"}
        </Button>
      </form>
      <ErrorNote error={find.error ?? give.error ?? erase.error} />
      {erase.data && (
        <output className="mt-3 block max-w-3xl border border-leaf px-3 py-2">
          <p>
            Erased in {count(erase.data.total)} places
            {erase.data.files.length > 0 && `; files deleted: ${erase.data.files.join(", ")}`}.
          </p>
          {erase.data.left.map((line) => (
            <p key={line} className="text-soft">
              {line}
            </p>
          ))}
        </output>
      )}
      {found && !erase.data && (
        <div className="mt-3 max-w-4xl">
          <p>
            {found.total === 0 && found.files.length === 0
              ? "Nothing is kept of this person."
              : `Found in ${count(found.total)} places: ${Object.entries(found.by_title)
                  .map(([title, many]) => `${title} ${count(many)}`)
                  .join(", ")}.`}
            {found.files.length > 0 && ` Files: ${found.files.join(", ")}.`}
          </p>
          {(found.total > 0 || found.files.length > 0) && (
            <p className="mt-1.5 flex gap-1.5">
              <Button disabled={give.isPending} onClick={() => give.mutate(asked)}>
                Export for them
              </Button>
              <Button disabled={erase.isPending} onClick={() => (sure ? erase.mutate(asked) : setSure(true))}>
                {erase.isPending ? "Erasing …" : sure ? "Erase for good: it cannot be undone" : "Erase"}
              </Button>
            </p>
          )}
          <ul className="mt-2 max-h-72 overflow-y-auto">
            {found.traces.map((trace) => (
              <li
                key={`${trace.title} ${trace.column} ${trace.excerpt} ${trace.business_id} ${trace.at}`}
                className="border-t border-line py-1"
              >
                <span className="font-medium">{trace.title}</span>{" "}
                <span className="text-soft">
                  {trace.at && day(trace.at)} {trace.whence}
                </span>{" "}
                {trace.business_id !== null && (
                  <Link to={`/businesses/${trace.business_id}`} className="text-leaf-dark underline">
                    business
                  </Link>
                )}
                <span className="block truncate text-soft">… {trace.excerpt} …</span>
              </li>
            ))}
          </ul>
          {found.total > found.traces.length && (
            <p className="text-soft">
              The first {count(found.traces.length)} of {count(found.total)} are shown; the export is cut
              there too.
            </p>
          )}
        </div>
      )}
    </>
  );
}
