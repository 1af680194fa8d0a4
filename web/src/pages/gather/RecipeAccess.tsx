import { useState } from "react";
import type { Draft } from "../../queries/gathering";

interface Props {
  plan: Draft;
  onChange: (plan: Draft) => void;
}

const asText = (fields: Record<string, string>): string =>
  Object.entries(fields)
    .map(([name, value]) => `${name}=${value}`)
    .join("\n");

const asFields = (text: string): Record<string, string> =>
  Object.fromEntries(
    text
      .split("\n")
      .filter((line) => line.includes("="))
      .map((line) => [line.slice(0, line.indexOf("=")).trim(), line.slice(line.indexOf("=") + 1).trim()]),
  );

/** How a directory is reached where an address alone does not do: a search form, a log-in, a "more" address, a browser. */
export default function PlanAccess({ plan, onChange }: Props) {
  const line = (name: "more" | "log_in" | "user" | "header", label: string, hint: string) => (
    <label className="contents" key={name}>
      <span className="text-soft">{label}</span>
      <input
        value={plan[name]}
        placeholder={hint}
        onChange={(event) => onChange({ ...plan, [name]: event.target.value })}
        className="box"
      />
    </label>
  );
  return (
    <div className="mt-1 grid grid-cols-[170px_1fr] items-center gap-x-3 gap-y-1">
      <Fields
        label="Search form’s fields"
        hint={"what={term}\nwhere={place}"}
        value={plan.form}
        onChange={(form) => onChange({ ...plan, form })}
      />
      {line("more", "Address of further rows", "https://…/more?from={seen}, where a button loads them")}
      {line("log_in", "Log-in form’s address", "https://…/login")}
      <Fields
        label="Log-in form’s fields"
        hint={"user={user}\npassword={secret}"}
        value={plan.log_in_form}
        onChange={(log_in_form) => onChange({ ...plan, log_in_form })}
      />
      {line("user", "User", "")}
      {line("header", "Or a header’s name", "X-Api-Key: the secret is sent in it")}
      <label className="contents">
        <span className="text-soft">Secret</span>
        <input
          type="password"
          autoComplete="new-password"
          value={plan.secret ?? ""}
          placeholder={
            plan.secret_kept
              ? "saved and encrypted; type to replace it"
              : "stored encrypted, never shown again"
          }
          onChange={(event) => onChange({ ...plan, secret: event.target.value })}
          className="box"
        />
      </label>
      <label className="col-span-2 flex items-center gap-2">
        <input
          type="checkbox"
          checked={plan.drawn}
          onChange={(event) => onChange({ ...plan, drawn: event.target.checked })}
        />
        Have a browser draw the page, scroll it and press its “more” button: slower, for pages made by scripts
      </label>
    </div>
  );
}

interface FieldsProps {
  label: string;
  hint: string;
  value: Record<string, string>;
  onChange: (fields: Record<string, string>) => void;
}

function Fields({ label, hint, value, onChange }: FieldsProps) {
  const [text, setText] = useState(asText(value));
  return (
    <label className="contents">
      <span className="self-start pt-1 text-soft">{label}</span>
      <textarea
        rows={2}
        value={text}
        placeholder={hint}
        onChange={(event) => {
          setText(event.target.value);
          onChange(asFields(event.target.value));
        }}
        className="box"
      />
    </label>
  );
}
