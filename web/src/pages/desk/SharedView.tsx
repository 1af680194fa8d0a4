import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { Loading } from "../../components/Loading";
import SiteLink from "../../components/SiteLink";
import { count, day, distance } from "../../lib/format";
import { useTitle } from "../../lib/useTitle";
import { useSharedView } from "../../queries/sharing";

const RIGHT = new Set(["count", "number", "share", "money", "distance"]);

const written = (kind: string, cell: string | number | null): string => {
  if (cell === null || cell === "") return "–";
  if (kind === "count") return count(Number(cell));
  if (kind === "share") return `${Math.round(Number(cell) * 100)} %`;
  if (kind === "distance") return distance(Number(cell));
  if (kind === "day") return day(String(cell));
  return kind === "money" ? count(Math.round(Number(cell))) : String(cell);
};

/** A view of the table for whoever has its link: to be read, nothing else. */
export default function SharedView() {
  const key = window.location.hash.slice(1);
  const [offset, setOffset] = useState(0);
  const query = useSharedView(key, offset);
  const found = query.data;
  useTitle(found?.name ?? "A shared list");
  const last = found ? offset + found.rows.length : 0;
  return (
    <main className="h-full overflow-y-auto bg-paper px-8 py-6">
      <h1 className="text-lg">{found?.name ?? "A shared list"}</h1>
      <ErrorNote error={query.error} />
      {query.isPending && <Loading />}
      {found && (
        <>
          <p className="text-soft">
            {found.by ? `${found.by}, ${found.agency}` : found.agency}. Good until {day(found.expires_at)}.
          </p>
          <p className="mt-1">
            {found.sentence} {found.total === 0 && "Nothing is in it at present."}
          </p>
          <table className="mt-3 w-full bg-sheet">
            <thead className="text-left text-soft">
              <tr className="border-b border-line">
                {found.columns.map((column) => (
                  <th
                    key={column.id}
                    scope="col"
                    className={`px-2 py-1 font-normal ${RIGHT.has(column.kind) ? "text-right" : ""}`}
                  >
                    {column.heading}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {found.rows.map((row, at) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: rows have no number for outsiders
                <tr key={at} className="border-b border-faint">
                  {found.columns.map((column, place) => {
                    const cell = row[place] ?? null;
                    return (
                      <td
                        key={column.id}
                        className={`px-2 py-1 ${RIGHT.has(column.kind) ? "text-right" : ""} ${column.id === "name" ? "font-medium" : ""}`}
                      >
                        {column.id === "website" && cell ? (
                          <SiteLink site={String(cell)} />
                        ) : (
                          written(column.kind, cell as string | number | null)
                        )}
                      </td>
                    );
                  })}
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-2 flex items-center gap-3 text-soft">
            {found.total > 0 && `${count(offset + 1)} to ${count(last)} of ${count(found.total)}`}
            {offset > 0 && <Button onClick={() => setOffset(0)}>From the beginning</Button>}
            {last < found.total && <Button onClick={() => setOffset(last)}>Next</Button>}
          </p>
        </>
      )}
    </main>
  );
}
