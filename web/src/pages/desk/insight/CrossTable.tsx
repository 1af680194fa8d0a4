import { Link } from "react-router";
import { Empty } from "../../../components/Empty";
import { ErrorNote } from "../../../components/ErrorNote";
import { count, money } from "../../../lib/format";
import { useCurrency } from "../../../queries/catalogue";
import { useCrossTable } from "../../../queries/desk";

interface Props {
  rows: string;
  columns: string;
  measure: string;
  filter: Record<string, string>;
}

/** How a cell is written, by what is measured. */
export function shown(value: number | null, measure: string, currency: string): string {
  if (value === null) return "";
  if (measure === "share") return `${Math.round(value * 100)} %`;
  if (measure.endsWith("value")) return money(value, currency);
  if (measure === "count") return count(value);
  return value >= 100 ? count(Math.round(value)) : value.toFixed(1);
}

/** The table, shaded by size; a cell opens the businesses behind it. */
export default function CrossTable({ rows, columns, measure, filter }: Props) {
  const query = useCrossTable(rows, columns, measure, filter);
  const currency = useCurrency();
  const table = query.data;
  if (query.error) return <ErrorNote error={query.error} />;
  if (!table) return <p className="p-6 text-soft">Counting …</p>;
  if (table.rows.length === 0)
    return <Empty title="Nothing to show">Run a sweep first, or clear the filter.</Empty>;
  const most = Math.max(0, ...table.cells.flat().map((cell) => cell ?? 0)) || 1;
  const shade = (value: number | null) =>
    value ? `rgb(164 83 28 / ${(0.06 + 0.5 * (value / most)).toFixed(3)})` : undefined;
  const open = (at: number, across: number) =>
    `/businesses?${new URLSearchParams(table.filters[at]?.[across] ?? {})}`;
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard
    <section aria-label="The table" tabIndex={0} className="min-h-0 flex-1 overflow-auto bg-sheet px-4 pb-8">
      <p className="py-2 font-serif text-[14px]">
        {table.sentence}
        {table.rows_left_out > 0 && (
          <span className="text-acorn"> · {table.rows_left_out} smaller rows left out</span>
        )}
        {table.rows_outside > 0 && (
          <span className="text-acorn"> · {count(table.rows_outside)} are in none of the rows</span>
        )}
        {table.columns_outside > 0 && (
          <span className="text-acorn"> · {count(table.columns_outside)} are in none of the columns</span>
        )}
        {table.columns_left_out > 0 && (
          <span className="text-acorn"> · {table.columns_left_out} smaller columns left out</span>
        )}
      </p>
      <table>
        <thead>
          <tr className="sticky top-0 bg-sheet">
            <td />
            {table.columns.map((column) => (
              <th
                key={column.value}
                scope="col"
                className="max-w-[110px] min-w-[58px] border-b border-line px-2 pb-1 text-right align-bottom font-normal text-soft"
              >
                {column.label}
              </th>
            ))}
            <th
              scope="col"
              className="border-b border-line px-2 pb-1 text-right align-bottom font-normal text-soft"
            >
              all
            </th>
          </tr>
        </thead>
        <tbody>
          {table.rows.map((row, at) => (
            <tr key={row.value} className="border-b border-faint">
              <th scope="row" className="max-w-[200px] truncate py-1 pr-4 text-left font-normal">
                {row.label}
              </th>
              {table.columns.map((column, across) => {
                const value = table.cells[at]?.[across] ?? null;
                const behind = table.counts[at]?.[across] ?? 0;
                return (
                  <td key={column.value} className="p-0 text-right" style={{ background: shade(value) }}>
                    {behind > 0 ? (
                      <Link
                        to={open(at, across)}
                        title={`${row.label}, ${column.label}: ${count(behind)} businesses`}
                        className="block px-2 py-1 hover:underline"
                      >
                        {shown(value, measure, currency) || "–"}
                      </Link>
                    ) : (
                      <span className="block px-2 py-1 text-soft">·</span>
                    )}
                  </td>
                );
              })}
              <td className="px-2 text-right font-semibold">
                {shown(table.row_totals[at] ?? null, measure, currency)}
              </td>
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr className="border-t border-ink">
            <th scope="row" className="py-1 text-left font-semibold">
              all
            </th>
            {table.column_totals.map((value, across) => (
              <td key={table.columns[across]?.value} className="px-2 text-right font-semibold">
                {shown(value, measure, currency)}
              </td>
            ))}
            <td className="px-2 text-right font-semibold">{shown(table.total, measure, currency)}</td>
          </tr>
        </tfoot>
      </table>
    </section>
  );
}
