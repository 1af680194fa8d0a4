import { XMarkIcon } from "@heroicons/react/16/solid";
import { useCallback, useEffect, useState } from "react";
import { sentence } from "../lib/format";
import { useUndo } from "../queries/desk";
import { ErrorNote } from "./ErrorNote";

interface Done {
  id: number;
  text: string;
}

const SHOWN_MS = 12_000;

/** The last thing done, to be taken back. */
export function useActionLog() {
  const [last, setLast] = useState<Done | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const [undone, setUndone] = useState("");
  const back = useUndo();
  useEffect(() => {
    if (!last && !undone) return;
    const timer = setTimeout(() => {
      setLast(null);
      setUndone("");
    }, SHOWN_MS);
    return () => clearTimeout(timer);
  }, [last, undone]);
  const note = useCallback((done: Done | null, fault: Error | null) => {
    setUndone("");
    setLast(done);
    setError(fault);
  }, []);
  const undo = () => {
    if (last)
      back.mutate(last.id, {
        onSuccess: () => {
          setUndone(`Undone: ${last.text}`);
          setLast(null);
        },
        onError: setError,
      });
  };
  return { last, undone, error, note, undo, dismiss: () => note(null, null) };
}

export default function UndoNote({ actions }: { actions: ReturnType<typeof useActionLog> }) {
  const { last, undone, error } = actions;
  if (!last && !undone && !error) return null;
  return (
    <output className="fixed bottom-4 left-1/2 z-30 flex max-w-[90%] -translate-x-1/2 items-center gap-3 border border-line bg-ink px-3 py-1.5 text-sheet shadow-lg">
      {error ? <ErrorNote error={error} /> : sentence(last?.text ?? undone)}
      {last && (
        <button
          type="button"
          onClick={actions.undo}
          className="rounded-[3px] border border-sheet/50 px-2 py-0.5 font-medium hover:border-sheet"
        >
          Undo (u)
        </button>
      )}
      <button type="button" aria-label="Dismiss" onClick={actions.dismiss} className="p-0.5 hover:opacity-70">
        <XMarkIcon className="size-4" />
      </button>
    </output>
  );
}
