import type { ButtonHTMLAttributes, ReactNode } from "react";
import { Problem } from "../api/client";

type Look = "main" | "plain" | "quiet";

const LOOKS: Record<Look, string> = {
  main: "bg-leaf text-white hover:bg-leaf-dark border-leaf",
  plain: "border-line bg-sheet hover:border-leaf",
  quiet: "border-transparent text-leaf-dark underline-offset-2 hover:underline px-1",
};

/** How a field to write in looks. */
export const BOX = "rounded-[3px] border border-line bg-white px-2 py-1 placeholder:text-soft";

export function Button({
  look = "plain",
  className = "",
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look }) {
  return (
    <button
      type="button"
      className={`inline-flex items-center gap-1.5 rounded-[3px] border px-2.5 py-1 font-medium whitespace-nowrap disabled:opacity-50 aria-pressed:border-leaf aria-pressed:bg-leaf-soft aria-pressed:text-leaf-dark ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}

/** What went wrong, and what to do about it. */
export function ErrorNote({ error }: { error: Error | null | undefined }) {
  if (!error) return null;
  const remedy = error instanceof Problem ? error.remedy : "";
  return (
    <p role="alert" className="border-l-[3px] border-alarm bg-acorn-soft/60 px-2.5 py-1.5 text-ink">
      <strong className="font-semibold">{sentence(error.message)}</strong> {remedy && sentence(remedy)}
    </p>
  );
}

export function sentence(text: string): string {
  const begun = text.charAt(0).toUpperCase() + text.slice(1);
  return /[.!?]$/.test(begun) ? begun : `${begun}.`;
}

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

export function Key({ children }: { children: ReactNode }) {
  return (
    <kbd className="rounded-[3px] border border-line bg-paper px-1 font-sans text-xs text-ink">
      {children}
    </kbd>
  );
}

export function Bar({ share, label }: { share: number; label: string }) {
  const percent = Math.round(share * 100);
  return (
    <div
      role="progressbar"
      aria-label={label}
      aria-valuenow={percent}
      aria-valuemin={0}
      aria-valuemax={100}
      className="h-2 overflow-hidden rounded-full bg-faint"
    >
      <div className="h-full bg-leaf transition-[width]" style={{ width: `${percent}%` }} />
    </div>
  );
}
