import type { ReactNode } from "react";

/** A list with nothing in it says what to do next. */
export function Empty({
  title,
  page = false,
  children,
}: {
  title: string;
  /** Is it all that the page has? */
  page?: boolean;
  children: ReactNode;
}) {
  const Heading = page ? "h1" : "h2";
  return (
    <div className="mx-auto max-w-md px-6 py-14 text-center">
      <Heading className="text-lg">{title}</Heading>
      <div className="mt-1.5 text-soft">{children}</div>
    </div>
  );
}
