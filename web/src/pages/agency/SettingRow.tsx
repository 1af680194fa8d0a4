import Control, { type Field } from "./Control";

interface Props {
  field: Field;
  value: unknown;
  problem: string;
  onChange: (value: unknown) => void;
}

const shown = (value: unknown): string => (Array.isArray(value) ? value.join(", ") : String(value));

/** One setting: its name, its box with the unit, its meaning and what stands there by default. */
export default function SettingRow({ field, value, problem, onChange }: Props) {
  const id = `set-${field.name}`;
  const standard =
    field.kind !== "secret" && field.default !== null && shown(field.default) !== ""
      ? `Default: ${shown(field.default)}.`
      : "";
  return (
    <div id={field.name} className="grid grid-cols-[230px_1fr] gap-x-4 border-t border-faint py-2">
      <label htmlFor={id} className="pt-1 font-medium">
        {field.title}
      </label>
      <div>
        <span className="flex items-center gap-2">
          <Control field={field} id={id} value={value} invalid={problem !== ""} onChange={onChange} />
          <span className="text-soft">{field.unit}</span>
        </span>
        {problem && (
          <p role="alert" className="text-alarm">
            {problem}
          </p>
        )}
        <p id={`${id}-meaning`} className="text-soft">
          {field.meaning} {standard} {field.restart && "Takes effect at the next start."}
        </p>
      </div>
    </div>
  );
}
