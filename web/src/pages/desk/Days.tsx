interface Props {
  title: string;
  /** "..days", or nothing. */
  value: string;
  onChange: (value: string) => void;
}

/** A number of days within which something happened. */
export default function Days({ title, value, onChange }: Props) {
  const days = value.replace("..", "");
  return (
    <label className="flex items-center justify-between gap-1 px-1 py-[2px]">
      {title}
      <input
        defaultValue={days}
        key={days}
        inputMode="numeric"
        onBlur={(event) =>
          onChange(/^\d+$/.test(event.target.value.trim()) ? `..${event.target.value.trim()}` : "")
        }
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        className="w-12 rounded-[3px] border border-line bg-white px-1 text-right"
      />
    </label>
  );
}
