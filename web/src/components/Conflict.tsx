import { Problem } from "../api/client";
import { sentence } from "../lib/format";
import { Button } from "./Button";
import { ErrorNote } from "./ErrorNote";

interface Props {
  error: Error | null | undefined;
  onMine: () => void;
  onTheirs: () => void;
  onBoth?: () => void;
}

/** What kept a change from being saved. If somebody else changed the same meanwhile, the user says whose stays: nothing is lost unasked. */
export function Conflict({ error, onMine, onTheirs, onBoth }: Props) {
  if (!(error instanceof Problem) || error.where !== "changed") return <ErrorNote error={error} />;
  return (
    <div role="alert" className="border-l-[3px] border-acorn bg-acorn-soft/60 px-2.5 py-1.5">
      <p>
        <strong className="font-semibold">{sentence(error.what)}</strong> Yours is not saved yet.
      </p>
      <p className="mt-1 flex flex-wrap gap-1.5">
        <Button onClick={onMine}>Keep mine</Button>
        <Button onClick={onTheirs}>Take theirs</Button>
        {onBoth && <Button onClick={onBoth}>Put both into the text</Button>}
      </p>
    </div>
  );
}
