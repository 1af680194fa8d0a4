import { Link } from "react-router";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { Phone } from "../../components/Phone";
import { count, money } from "../../lib/format";
import { PAGE, useGrid } from "../../queries/businesses";
import { useCurrency, useServices } from "../../queries/catalogue";
import { useRemoveMembers } from "../../queries/shortlists";

/** A list row by row. */
export default function Members({ shortlist }: { shortlist: number }) {
  const filter = { shortlist: String(shortlist), state: "all" };
  const grid = useGrid(filter, "-value", [0], false);
  const services = useServices().data ?? [];
  const currency = useCurrency();
  const unpick = useRemoveMembers();
  const rows = grid.byPage.get(0)?.rows ?? [];
  const total = grid.total ?? 0;
  return (
    <>
      <ErrorNote error={unpick.error ?? grid.error} />
      {grid.total === 0 && (
        <Empty title="Nobody is on this list">Pick rows in the table and put them here.</Empty>
      )}
      {total > 0 && (
        <table className="mt-3 w-full bg-sheet">
          <thead className="text-left text-soft">
            <tr className="border-b border-line">
              {["Business", "Town", "Phone", "Best offer"].map((head) => (
                <th key={head} scope="col" className="px-2 py-1 font-normal">
                  {head}
                </th>
              ))}
              <th scope="col" className="px-2 py-1 text-right font-normal">
                Score
              </th>
              <th scope="col" className="px-2 py-1 text-right font-normal">
                Value
              </th>
              <th scope="col" className="px-2 py-1">
                <span className="sr-only">Remove</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.id} className="border-b border-faint">
                <td className="px-2 py-1">
                  <Link
                    className="font-medium hover:underline"
                    to={`/businesses?shortlist=${shortlist}&state=all&b=${row.id}`}
                  >
                    {row.name}
                  </Link>
                </td>
                <td className="px-2 py-1">{row.town}</td>
                <td className="px-2 py-1 whitespace-nowrap">
                  <Phone number={row.phone} />
                </td>
                <td className="px-2 py-1">
                  {services.find((service) => service.id === row.offer)?.title ?? "–"}
                </td>
                <td className="px-2 py-1 text-right">{row.score ?? "–"}</td>
                <td className="px-2 py-1 text-right">{money(row.value, currency)}</td>
                <td className="px-2 py-1 text-right">
                  <Button
                    look="quiet"
                    onClick={() => unpick.mutate({ shortlist_id: shortlist, ids: [row.id] })}
                    aria-label={`take off ${row.name}`}
                  >
                    take off
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {total > PAGE && (
        <p className="mt-2 text-soft">
          The first {PAGE} of {count(total)} are shown; open the list in the table for all of them.
        </p>
      )}
    </>
  );
}
