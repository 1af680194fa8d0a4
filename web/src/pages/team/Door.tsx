import type { ReactNode } from "react";

interface Props {
  title: string;
  onSubmit: () => void;
  foot?: ReactNode;
  children: ReactNode;
}

/** The sheet that stands before the application: to sign in, or to choose a password. */
export default function Door({ title, onSubmit, foot, children }: Props) {
  return (
    <main className="grid h-full place-items-center overflow-y-auto bg-paper p-6">
      <form
        aria-label={title}
        className="w-full max-w-sm space-y-3 border border-line bg-sheet px-7 py-6"
        onSubmit={(event) => {
          event.preventDefault();
          onSubmit();
        }}
      >
        <p className="flex items-center gap-2 font-serif text-[15px] font-semibold">
          <img src="/acorn.svg" alt="" width={20} height={20} /> Open Acorn
        </p>
        <h1 className="text-lg">{title}</h1>
        {children}
        {foot && <p>{foot}</p>}
      </form>
    </main>
  );
}

interface FieldProps {
  label: string;
  type?: string;
  value: string;
  autoComplete?: string;
  first?: boolean;
  onChange: (value: string) => void;
}

/** One line to fill in. first: the cursor waits there. */
export function Field({ label, type = "text", value, autoComplete, first = false, onChange }: FieldProps) {
  return (
    <label className="block">
      <span className="block text-soft">{label}</span>
      <input
        type={type}
        value={value}
        autoComplete={autoComplete}
        ref={(input) => {
          if (first && input && input.value === "" && document.activeElement === document.body) input.focus();
        }}
        onChange={(event) => onChange(event.target.value)}
        className="w-full box"
      />
    </label>
  );
}
