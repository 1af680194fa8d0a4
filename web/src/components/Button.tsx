import type { ComponentProps } from "react";

type Look = "main" | "plain" | "quiet";

const LOOKS: Record<Look, string> = {
  main: "bg-leaf text-white hover:bg-leaf-dark border-leaf",
  plain: "border-line bg-sheet hover:border-leaf",
  quiet: "border-transparent text-leaf-dark underline-offset-2 hover:underline px-1",
};

export function Button({
  look = "plain",
  className = "",
  ...rest
}: ComponentProps<"button"> & { look?: Look }) {
  return (
    <button
      type="button"
      className={`inline-flex items-center gap-1.5 rounded-[3px] border px-2.5 py-1 font-medium whitespace-nowrap disabled:opacity-50 aria-pressed:border-leaf aria-pressed:bg-leaf-soft aria-pressed:text-leaf-dark ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}
