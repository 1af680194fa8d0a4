import type { ReactNode } from "react";

export function Key({ children }: { children: ReactNode }) {
  return (
    <kbd className="rounded-[3px] border border-line bg-paper px-1 font-sans text-xs text-ink">
      {children}
    </kbd>
  );
}
