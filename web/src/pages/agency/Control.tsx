import type { Schemas } from "../../api/client";
import { countryNames } from "../../lib/format";
import { useCountries } from "../../queries/catalogue";

export type Field = Schemas["SettingField"];

interface Props {
  field: Field;
  id: string;
  value: unknown;
  invalid: boolean;
  onChange: (value: unknown) => void;
}

const WIDTHS: Record<string, string> = { whole: "w-28", number: "w-28", list: "w-80", place: "w-56" };

const asText = (value: unknown): string =>
  Array.isArray(value) ? value.join(", ") : value === null || value === undefined ? "" : String(value);

const parts = (text: string): string[] =>
  text
    .split(",")
    .map((part) => part.trim())
    .filter(Boolean);

/** What was typed, as the application takes it; text that is no number goes there as it is and is refused with the reason. */
function typed(field: Field, text: string): unknown {
  if (field.kind === "list") return parts(text);
  if (field.kind === "place") return text.trim() ? parts(text).map(Number) : null;
  if (field.kind === "whole" || field.kind === "number") {
    if (text.trim() === "") return field.default ?? null;
    const number = Number(text);
    return Number.isNaN(number) ? text : number;
  }
  return text === "" && field.default === null ? null : text;
}

/** The box of one setting, by its kind. */
export default function Control({ field, id, value, invalid, onChange }: Props) {
  const same = {
    id,
    "aria-describedby": `${id}-meaning`,
    "aria-invalid": invalid || undefined,
  };
  if (field.kind === "country") return <Country {...same} value={asText(value)} onChange={onChange} />;
  if (field.kind === "choice")
    return (
      <select
        {...same}
        value={asText(value)}
        onChange={(event) => onChange(event.target.value)}
        className="box"
      >
        {field.choices?.map((choice) => (
          <option key={choice}>{choice}</option>
        ))}
      </select>
    );
  return (
    <input
      {...same}
      type={field.kind === "secret" ? "password" : "text"}
      autoComplete="off"
      inputMode={field.kind === "whole" || field.kind === "number" ? "decimal" : undefined}
      defaultValue={asText(value)}
      placeholder={field.is_set ? "kept; type to replace it" : ""}
      onChange={(event) => onChange(typed(field, event.target.value))}
      className={`box ${WIDTHS[field.kind] ?? "w-80"}`}
    />
  );
}

function Country({
  value,
  onChange,
  ...rest
}: {
  id: string;
  value: string;
  onChange: (value: unknown) => void;
}) {
  const countries = useCountries(true).data ?? [];
  return (
    <select
      {...rest}
      value={value}
      onChange={(event) => onChange(event.target.value || null)}
      className="box w-80"
    >
      <option value="">not chosen yet</option>
      {countryNames(countries).map(([code, name]) => (
        <option key={code} value={code}>
          {name}
        </option>
      ))}
    </select>
  );
}
