import { Bar, BarChart, CartesianGrid, Legend, ResponsiveContainer, Tooltip, XAxis, YAxis } from "recharts";
import { useCurrency } from "../../../queries/catalogue";
import { useCrossTable } from "../../../queries/desk";
import { shown } from "./CrossTable";

const COLOURS = [1, 2, 3, 5, 4, 6, 7, 8].map((kind) => `var(--color-kind-${kind})`);
const MOST_BARS = 14;

interface Props {
  rows: string;
  columns: string;
  measure: string;
  filter: Record<string, string>;
}

/** The same table as bars, the largest rows first; the table itself stands below. */
export default function Bars({ rows, columns, measure, filter }: Props) {
  const table = useCrossTable(rows, columns, measure, filter).data;
  const currency = useCurrency();
  if (!table) return null;
  const adds = measure === "count" || measure === "sum of value";
  const shownColumns = table.columns.slice(0, COLOURS.length);
  const data = table.rows
    .map((row, at) => ({
      label: row.label,
      total: table.row_totals[at] ?? 0,
      ...Object.fromEntries(shownColumns.map((column, across) => [column.label, table.cells[at]?.[across]])),
    }))
    .sort((a, b) => b.total - a.total)
    .slice(0, MOST_BARS);
  return (
    <figure className="h-[300px] shrink-0 border-b border-line bg-sheet px-4 pt-3">
      <ResponsiveContainer width="100%" height="92%">
        <BarChart data={data} margin={{ left: 10, right: 10 }}>
          <CartesianGrid vertical={false} stroke="var(--color-faint)" />
          <XAxis dataKey="label" tick={{ fontSize: 11, fill: "var(--color-soft)" }} interval={0} />
          <YAxis
            tick={{ fontSize: 11, fill: "var(--color-soft)" }}
            tickFormatter={(value: number) => shown(value, measure, currency)}
            width={64}
          />
          <Tooltip formatter={(value) => shown(Number(value), measure, currency)} />
          <Legend wrapperStyle={{ fontSize: 11 }} />
          {shownColumns.map((column, at) => (
            <Bar
              key={column.value}
              dataKey={column.label}
              stackId={adds ? "all" : undefined}
              fill={COLOURS[at]}
              isAnimationActive={false}
            />
          ))}
        </BarChart>
      </ResponsiveContainer>
      {(table.rows.length > MOST_BARS || table.columns.length > COLOURS.length) && (
        <figcaption className="text-soft">
          The largest {Math.min(MOST_BARS, table.rows.length)} rows and{" "}
          {Math.min(COLOURS.length, table.columns.length)} columns; all of them are in the table below.
        </figcaption>
      )}
    </figure>
  );
}
