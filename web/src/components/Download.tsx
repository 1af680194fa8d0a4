import type { ReactNode } from "react";

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
  return (
    <form method="post" action={from} className="contents">
      <button type="submit" className={className}>
        {children}
      </button>
    </form>
  );
}
