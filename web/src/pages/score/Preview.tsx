import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { ServiceAsked } from "../../api/client";
import { ErrorNote } from "../../components/ErrorNote";
import { count } from "../../lib/format";
import { usePreview } from "../../queries/desk";

const PAUSE_MS = 60;

interface Props {
  id: string;
  draft: ServiceAsked;
  changed: boolean;
}

/** What the rules as they stand would do: the top of the list with its places before, and the scores' spread. */
export default function Preview({ id, draft, changed }: Props) {
  const [asked, setAsked] = useState(draft);
  useEffect(() => {
    const timer = setTimeout(() => setAsked(draft), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [draft]);
  const query = usePreview(id, asked.title.trim() ? asked : { ...asked, title: "new" });
  const result = query.data;
  return (
    <aside
      aria-label="Effect"
      className="w-[330px] shrink-0 overflow-y-auto border-l border-line bg-sheet px-4 py-4"
    >
      <h2 className="text-[15px]">{changed ? "If you save this" : "As it is now"}</h2>
      <ErrorNote error={query.error} />
      {result && (
        <>
          <p className="mt-1 text-soft">
            {count(result.scored)} have a score
            {changed && result.scored !== result.scored_before && ` (before ${count(result.scored_before)})`};{" "}
            {count(result.offers)} need it enough to be offered
            {changed && result.offers !== result.offers_before && ` (before ${count(result.offers_before)})`}.
          </p>
          <Spread bins={result.bins} before={result.bins_before} />
          <table className="mt-3 w-full" data-testid="ranking">
            <thead className="text-left text-soft">
              <tr className="border-b border-line">
                <th className="w-7 py-1 font-normal">#</th>
                <th className="w-12 font-normal">was</th>
                <th className="font-normal">Business</th>
                <th className="w-16 text-right font-normal">Score</th>
              </tr>
            </thead>
            <tbody>
              {result.top.map((row) => {
                const moved = row.rank_before === null ? null : row.rank_before - row.rank;
                return (
                  <tr key={row.id} className="border-b border-faint">
                    <td className="py-0.5">{row.rank}</td>
                    <td className="text-soft">
                      {row.rank_before ?? "new"}
                      {moved !== null && moved !== 0 && (
                        <span className={moved > 0 ? "text-leaf-dark" : "text-acorn"}>
                          {" "}
                          {moved > 0 ? "↑" : "↓"}
                        </span>
                      )}
                    </td>
                    <td className="max-w-0 truncate" title={`${row.name}, ${row.town}`}>
                      <Link to={`/businesses/${row.id}`} className="hover:underline">
                        {row.name}
                      </Link>
                    </td>
                    <td className="text-right">
                      {row.before !== null && row.before !== row.score && (
                        <span className="text-soft">{row.before} → </span>
                      )}
                      <strong className="font-semibold">{row.score}</strong>
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          {result.top.length === 0 && (
            <p className="mt-3 text-soft">
              No business has a score under these rules yet: too little is known.
            </p>
          )}
        </>
      )}
    </aside>
  );
}

/** Businesses by score, ten points a bar; the outline is how it was. */
function Spread({ bins, before }: { bins: number[]; before: number[] }) {
  const most = Math.max(1, ...bins, ...before);
  return (
    <figure className="mt-3" aria-label="Businesses by score">
      <div className="flex h-20 items-end gap-1 border-b border-line">
        {bins.map((number, at) => (
          <span
            // biome-ignore lint/suspicious/noArrayIndexKey: a bin is its place
            key={at}
            className="relative h-full flex-1"
            title={`${at * 10} to ${at * 10 + 10}: ${count(number)}, before ${count(before[at] ?? 0)}`}
          >
            <i
              className="absolute inset-x-0 bottom-0 bg-acorn transition-[height]"
              style={{ height: `${(100 * number) / most}%` }}
            />
            <i
              className="absolute inset-x-0 bottom-0 border border-b-0 border-ink/60"
              style={{ height: `${(100 * (before[at] ?? 0)) / most}%` }}
            />
          </span>
        ))}
      </div>
      <figcaption className="flex justify-between text-xs text-soft">
        <span>0</span>
        <span>score; outlined: current rules</span>
        <span>100</span>
      </figcaption>
    </figure>
  );
}
