import type { Service } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { when } from "../../lib/format";
import { useRemoveService, useRestore, useVersions } from "../../queries/desk";

/** Every wording that was in force; any of them can be put in force again. */
export default function Versions({ id, onRestored }: { id: string; onRestored: (service: Service) => void }) {
  const versions = useVersions(id).data ?? [];
  const restore = useRestore();
  const remove = useRemoveService();
  return (
    <section aria-label="Versions" className="mt-5">
      <h3 className="border-b border-line pb-0.5">Versions</h3>
      <ErrorNote error={restore.error ?? remove.error} />
      <ul>
        {versions.map((version, at) => (
          <li key={version.number} className="flex items-baseline gap-3 border-b border-faint py-1">
            <span className="w-20">{version.number ? `version ${version.number}` : "shipped"}</span>
            <span className="min-w-0 flex-1 truncate text-soft">{version.note}</span>
            <span className="text-soft">{version.at ? when(version.at) : ""}</span>
            {at === 0 ? (
              <span className="w-20 text-right text-leaf-dark">in force</span>
            ) : (
              <Button
                look="quiet"
                className="w-20 justify-end"
                disabled={restore.isPending}
                onClick={() =>
                  restore.mutate(
                    { id, number: version.number },
                    { onSuccess: (result) => onRestored(result.service) },
                  )
                }
              >
                Restore
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Button
        look="quiet"
        className="mt-2 text-alarm"
        disabled={remove.isPending}
        onClick={() => remove.mutate(id)}
      >
        Stop offering
      </Button>
    </section>
  );
}
