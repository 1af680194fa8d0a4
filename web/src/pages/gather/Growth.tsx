import { Link } from "react-router";
import type { Run } from "../../api/client";
import { count, day } from "../../lib/format";
import { useGrowth } from "../../queries/gathering";

const HEADS = ["Seen", "New", "Gone", "Changed", "So far"];

/** All finished runs of the sweep, one a line: what each brought, and how many are known so far. */
export default function Growth({ run }: { run: Run }) {
  const runs = useGrowth(run.sweep_id).data ?? [];
  if (runs.length < 2) return null;
  return (
    <section aria-label="Over all runs" className="mt-4">
      <h2 className="border-b border-line pb-0.5 text-[14px]">Over all {runs.length} runs</h2>
      <table className="w-full">
        <thead className="text-soft">
          <tr className="border-b border-faint text-right">
            <th scope="col" className="py-0.5 text-left font-normal">
              Run
            </th>
            {HEADS.map((head) => (
              <th key={head} scope="col" className="py-0.5 font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {runs.map((item) => (
            <tr key={item.run} className="border-b border-faint text-right">
              <th scope="row" className="py-0.5 text-left font-normal">
                {item.run === run.id ? (
                  <strong className="font-semibold">{day(item.at)}</strong>
                ) : (
                  <Link className="hover:underline" to={`/sweeps/runs/${item.run}`}>
                    {day(item.at)}
                  </Link>
                )}
              </th>
              {[item.seen, item.new, item.gone, item.changed, item.so_far].map((value, index) => (
                <td key={HEADS[index]} className="py-0.5">
                  {count(value)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
