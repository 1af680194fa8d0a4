import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { useCallColumns, useChooseCallColumns } from "../../queries/dialling";
import ResultsFile from "./ResultsFile";

/** The call list for a dialler with its columns, and the results that it gives back. */
export default function Dialler({ shortlist, onClose }: { shortlist: number; onClose: () => void }) {
  const columns = useCallColumns();
  const choose = useChooseCallColumns();
  const chosen = columns.data?.chosen ?? [];
  const toggle = (id: string) =>
    choose.mutate(chosen.includes(id) ? chosen.filter((name) => name !== id) : [...chosen, id]);
  return (
    <section
      aria-label="Dialler"
      className="mt-3 border border-line bg-sheet px-3 py-2"
      onKeyDown={(event) => event.key === "Escape" && onClose()}
    >
      <div className="flex items-start gap-4">
        <div className="min-w-0 flex-1">
          <h2 className="text-[15px]">Call list for a dialler</h2>
          <p className="text-soft">Businesses to call now, mobiles first. The columns are remembered.</p>
          <div className="mt-1.5 flex flex-wrap gap-x-4 gap-y-1">
            {columns.data?.columns.map((column) => (
              <label key={column.id} className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={chosen.includes(column.id)}
                  disabled={choose.isPending || (chosen.length === 1 && chosen[0] === column.id)}
                  onChange={() => toggle(column.id)}
                />
                {column.title}
              </label>
            ))}
          </div>
          <ErrorNote error={columns.error ?? choose.error} />
          <a
            href={`/api/shortlists/${shortlist}/call-list.csv`}
            download
            className="mt-2 inline-flex items-center rounded-[3px] border border-leaf bg-leaf px-2.5 py-1 font-medium text-white hover:bg-leaf-dark"
          >
            Download the list
          </a>
        </div>
        <div className="w-[340px] shrink-0 border-l border-line pl-4">
          <ResultsFile />
        </div>
        <Button look="quiet" onClick={onClose}>
          Close
        </Button>
      </div>
    </section>
  );
}
