import type { Plan } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { sentence } from "../../lib/format";
import { useSample } from "../../queries/sweeps";

/** Some names before the run, by one question a source: is this who was meant? */
export default function SampleNames({ plan }: { plan: Plan }) {
  const sample = useSample();
  return (
    <div className="mt-1">
      <Button
        look="quiet"
        disabled={plan.trades.length === 0 || !plan.sources?.length || sample.isPending}
        onClick={() => sample.mutate(plan)}
      >
        {sample.isPending ? "Asking …" : "Show sample names"}
      </Button>
      <ErrorNote error={sample.error} />
      {sample.data && (
        <ul className="max-h-40 overflow-y-auto" aria-label="Sample of names">
          {sample.data.map((item) => (
            <li key={item.source} className="py-0.5">
              <strong className="font-semibold">{item.title}:</strong>{" "}
              {item.trouble ? (
                <span className="text-acorn">
                  {sentence(item.trouble)} {sentence(item.remedy)}
                </span>
              ) : (
                item.names.join(" · ")
              )}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
