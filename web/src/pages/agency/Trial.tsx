import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { sentence } from "../../lib/format";
import { useTrial, type Values } from "../../queries/agency";

/** Makes one small real request with the settings as they are on the screen, and shows what came of it. */
export default function Trial({
  what,
  name,
  values,
  address,
}: {
  what: string;
  name: string;
  values?: Values;
  address?: string;
}) {
  const trial = useTrial();
  const result = trial.data;
  return (
    <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
      <Button
        disabled={trial.isPending}
        aria-label={`Test: ${name}`}
        onClick={() => trial.mutate({ what, values, address })}
      >
        {trial.isPending ? "Testing …" : "Test"}
      </Button>
      <output className="min-w-0 flex-1">
        {result && !trial.isPending && (
          <span className={result.ok ? "text-leaf-dark" : "text-alarm"}>
            <strong className="font-semibold">{result.ok ? "It works. " : "It does not work. "}</strong>
            {sentence(result.said)} {result.remedy && sentence(result.remedy)}
            {result.shown && result.shown.length > 0 && (
              <span className="text-soft"> {result.shown.join(" · ")}</span>
            )}
          </span>
        )}
      </output>
      <ErrorNote error={trial.error} />
    </div>
  );
}
