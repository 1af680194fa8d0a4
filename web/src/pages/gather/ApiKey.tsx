import type { ApiDraft } from "../../queries/apis";

interface Props {
  draft: ApiDraft;
  onChange: (draft: ApiDraft) => void;
}

/** How a service is shown that we may ask it: the key, and the header or parameter that carries it. */
export default function ApiKey({ draft, onChange }: Props) {
  return (
    <div className="flex flex-wrap items-end gap-2">
      <label>
        <span className="block text-soft">The key goes into</span>
        <select
          value={draft.key_in}
          onChange={(event) => onChange({ ...draft, key_in: event.target.value })}
          className="box"
        >
          <option value="header">a header</option>
          <option value="query">the address</option>
        </select>
      </label>
      {(
        [
          [
            "key_name",
            "Its name there",
            draft.key_in === "header" ? "such as X-Api-Key" : "such as apikey",
            "w-40",
          ],
          ["key_prefix", "Words before the key", "such as Bearer", "w-36"],
        ] as const
      ).map(([name, label, hint, width]) => (
        <label key={name}>
          <span className="block text-soft">{label}</span>
          <input
            value={draft[name]}
            placeholder={hint}
            required={name === "key_name" && Boolean(draft.secret)}
            onChange={(event) => onChange({ ...draft, [name]: event.target.value })}
            className={`box ${width}`}
          />
        </label>
      ))}
      <label>
        <span className="block text-soft">Key</span>
        <input
          type="password"
          autoComplete="new-password"
          value={draft.secret ?? ""}
          placeholder={draft.secret_kept ? "saved; type to replace it" : "stored encrypted"}
          onChange={(event) => onChange({ ...draft, secret: event.target.value })}
          className="box w-52"
        />
      </label>
    </div>
  );
}
