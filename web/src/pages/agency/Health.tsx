import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { sentence } from "../../lib/format";
import { useHealth } from "../../queries/agency";
import Nav from "./Nav";

const STATES: Record<string, [string, string]> = {
  ok: ["works", "text-leaf-dark"],
  low: ["low", "text-acorn font-semibold"],
  missing: ["missing", "text-alarm font-semibold"],
  "not tried": ["not tried", "text-soft"],
};

/** What the application needs of this machine, with the remedy for what is missing. */
export default function Health() {
  const health = useHealth();
  const parts = health.data?.parts ?? [];
  const faulty = parts.filter((part) => part.state === "missing" || part.state === "low").length;
  return (
    <div className="flex h-full">
      <Nav title="Health" />
      <section aria-label="Health" className="min-w-0 flex-1 overflow-y-auto px-6 py-4">
        <div className="flex items-center gap-4">
          <h1 className="text-lg">Health</h1>
          <Button disabled={health.isFetching} onClick={() => health.refetch()}>
            {health.isFetching ? "Looking …" : "Look again"}
          </Button>
        </div>
        <p className="text-soft" aria-live="polite">
          {health.isPending
            ? "Looking at this machine; that takes some seconds …"
            : faulty === 0
              ? "Everything that was tried works."
              : `${faulty} of ${parts.length} need you.`}
        </p>
        <ErrorNote error={health.error} />
        {parts.length > 0 && (
          <table className="mt-3 max-w-4xl bg-sheet">
            <thead className="text-left text-soft">
              <tr className="border-b border-line">
                {["Part", "State", "What was found", "What to do"].map((head) => (
                  <th key={head} scope="col" className="px-3 py-1.5 font-normal">
                    {head}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {parts.map((part) => {
                const [word, look] = STATES[part.state] ?? [part.state, ""];
                return (
                  <tr key={part.name} className="border-b border-faint align-top">
                    <th scope="row" className="px-3 py-2 text-left font-medium whitespace-nowrap">
                      {sentence(part.name).replace(/\.$/, "")}
                    </th>
                    <td className={`px-3 py-2 whitespace-nowrap ${look}`}>{word}</td>
                    <td className="px-3 py-2 break-words">{sentence(part.said)}</td>
                    <td className="px-3 py-2">{part.remedy && sentence(part.remedy)}</td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        )}
      </section>
    </div>
  );
}
