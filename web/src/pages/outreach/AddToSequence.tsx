import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { count } from "../../lib/format";
import { author } from "../../lib/session";
import { useCandidates, useEnrol } from "../../queries/messages";
import { useShortlists } from "../../queries/shortlists";

/** Puts a shortlist into a sequence, after showing who is left out and why. */
export default function AddToSequence({ sequence, onDone }: { sequence: number; onDone: () => void }) {
  const lists = useShortlists().data ?? [];
  const [shortlist, setShortlist] = useState(0);
  const query = useCandidates(sequence, shortlist);
  const enrol = useEnrol(sequence);
  const left = query.data?.candidates.filter((item) => item.reason) ?? [];
  return (
    <section aria-label="Add businesses" className="mt-3 max-w-4xl border border-line bg-sheet p-3">
      <label>
        From the shortlist{" "}
        <select
          value={shortlist}
          onChange={(event) => setShortlist(Number(event.target.value))}
          className="ml-1 box"
        >
          <option value={0}>choose one</option>
          {lists.map((list) => (
            <option key={list.id} value={list.id}>
              {list.name} ({count(list.members)})
            </option>
          ))}
        </select>
      </label>
      {query.isFetching && <output className="ml-2 text-soft">looking at each business …</output>}
      <ErrorNote error={query.error ?? enrol.error} />
      {query.data && shortlist > 0 && (
        <>
          <p className="mt-2">
            <strong>{count(query.data.taken)}</strong> can be added.
          </p>
          {left.length > 0 && (
            <details className="max-w-2xl">
              <summary className="cursor-pointer">{count(left.length)} are left out</summary>
              <ul aria-label="Left out" className="border-t border-line">
                {left.map((item) => (
                  <li
                    key={item.business_id}
                    className="flex justify-between gap-3 border-b border-faint py-0.5"
                  >
                    <span>{item.business}</span>
                    <span className="text-soft">{item.reason}</span>
                  </li>
                ))}
              </ul>
            </details>
          )}
        </>
      )}
      <p className="mt-2 flex gap-1.5">
        <Button
          look="main"
          disabled={!query.data?.taken || enrol.isPending}
          onClick={() => enrol.mutate({ shortlist, by: author() }, { onSuccess: onDone })}
        >
          Add {query.data ? count(query.data.taken) : "…"}
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </p>
    </section>
  );
}
