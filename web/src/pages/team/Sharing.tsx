import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { type SharedKind, useShare, useSharing } from "../../queries/sharing";

interface Props {
  kind: SharedKind;
  id: number;
  onClose: () => void;
}

/** Who sees a list or a territory: everybody, or some. */
export default function Sharing({ kind, id, onClose }: Props) {
  const query = useSharing(kind, id);
  const share = useShare(kind, id);
  const [draft, setDraft] = useState<{ private: boolean; people: number[] } | null>(null);
  const found = query.data;
  if (!found) return <ErrorNote error={query.error} />;
  const now = draft ?? { private: found.private, people: found.people };
  const others = found.colleagues.filter((one) => one.name !== found.made_by);
  const toggle = (person: number) =>
    setDraft({
      ...now,
      people: now.people.includes(person)
        ? now.people.filter((one) => one !== person)
        : [...now.people, person],
    });
  return (
    <section aria-label="Who sees this" className="mt-3 max-w-2xl border border-line bg-sheet px-3 py-2">
      {found.colleagues.length === 0 ? (
        <p>There are no accounts yet: everybody at this computer sees it.</p>
      ) : (
        <fieldset disabled={!found.mine}>
          <legend className="font-semibold">Who sees this</legend>
          <label className="mt-1 flex items-center gap-1.5">
            <input
              type="radio"
              name="who"
              checked={!now.private}
              onChange={() => setDraft({ private: false, people: [] })}
            />
            Everybody
          </label>
          <label className="flex items-center gap-1.5">
            <input
              type="radio"
              name="who"
              checked={now.private}
              onChange={() => setDraft({ ...now, private: true })}
            />
            {found.made_by || "The person who shares it"}, owners and managers, and:
          </label>
          {now.private && (
            <div className="mt-1 flex flex-wrap gap-x-4 pl-5">
              {others.map((one) => (
                <label key={one.id} className="flex items-center gap-1.5">
                  <input
                    type="checkbox"
                    checked={now.people.includes(one.id)}
                    onChange={() => toggle(one.id)}
                  />
                  {one.name}
                </label>
              ))}
            </div>
          )}
        </fieldset>
      )}
      {found.colleagues.length > 0 && !found.mine && (
        <p className="mt-1 text-soft">Only {found.made_by}, an owner or a manager can change this.</p>
      )}
      <p className="mt-2 flex gap-1.5">
        {found.colleagues.length > 0 && found.mine && (
          <Button
            look="main"
            disabled={draft === null || share.isPending}
            onClick={() => share.mutate(now, { onSuccess: onClose })}
          >
            Save
          </Button>
        )}
        <Button onClick={onClose}>Close</Button>
      </p>
      <ErrorNote error={share.error} />
    </section>
  );
}
