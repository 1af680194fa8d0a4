import { type ReactNode, useState } from "react";
import { answerFile } from "../lib/files";
import { csrf } from "../lib/session";
import { ErrorNote } from "./ErrorNote";

/** A button for a file that only a POST gives out, since it is noted who was in it: no link on another page can ask for it. */
export function Download({
  from,
  className,
  children,
}: {
  from: string;
  className: string;
  children: ReactNode;
}) {
  const [error, setError] = useState<Error>();
  const [busy, setBusy] = useState(false);
  if (!csrf())
    return (
      <form method="post" action={from} className="contents">
        <button type="submit" className={className}>
          {children}
        </button>
      </form>
    );
  const fetchIt = async () => {
    setBusy(true);
    setError(undefined);
    try {
      await answerFile(from, csrf());
    } catch (problem) {
      setError(problem as Error);
    }
    setBusy(false);
  };
  return (
    <>
      <button type="button" className={className} disabled={busy} onClick={fetchIt}>
        {children}
      </button>
      <ErrorNote error={error} />
    </>
  );
}
