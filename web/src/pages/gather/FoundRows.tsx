import { fieldName } from "../../lib/fields";

interface Props {
  label?: string;
  fields: string[];
  rows: Record<string, string>[];
}

/** The rows that a recipe reads, a column for each field. */
export default function FoundRows({ label = "Rows found", fields, rows }: Props) {
  return (
    <section
      aria-label={label}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard
      tabIndex={0}
      className="mt-1 overflow-x-auto bg-sheet"
    >
      <table className="w-full">
        <thead className="text-left text-soft">
          <tr className="border-b border-line">
            {fields.map((field) => (
              <th key={field} scope="col" className="px-2 py-1 font-normal">
                {fieldName(field)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, index) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rows are shown as they were answered
            <tr key={index} className="border-b border-faint">
              {fields.map((field) => (
                <td key={field} className="max-w-56 truncate px-2 py-0.5">
                  {row[field] ?? <span className="text-soft">–</span>}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
