interface Props {
  limits: Limits;
  /** The language taken where none is typed. */
  language: string;
  currency: string;
  onChange: (limits: Limits) => void;
}

/** As typed; numbers are read when the plan is made. */
export interface Limits {
  wanted: string;
  requests: string;
  cost: string;
  language: string;
}

export const NO_LIMITS: Limits = { wanted: "", requests: "", cost: "", language: "" };

const LINES = [
  ["wanted", "all", "businesses, then stop", /\D/g],
  ["requests", "any", "requests to a source at most", /\D/g],
  ["cost", "any", "", /[^\d.]/g],
] as const;

/** Where a sweep stops: at a number of businesses, at so many requests, at so much money. */
export default function LimitsForm({ limits, language, currency, onChange }: Props) {
  return (
    <>
      {LINES.map(([name, none, after, strip]) => (
        <label key={name} className="mb-1 flex items-center gap-2">
          <input
            inputMode={name === "cost" ? "decimal" : "numeric"}
            value={limits[name]}
            placeholder={none}
            onChange={(event) => onChange({ ...limits, [name]: event.target.value.replace(strip, "") })}
            className="w-20 rounded-[3px] border border-line bg-white px-2 py-1 text-right placeholder:text-soft"
          />
          {name === "cost" ? `${currency} to a source at most` : after}
        </label>
      ))}
      <label className="flex items-center gap-2">
        <input
          value={limits.language}
          placeholder={language || "any"}
          maxLength={35}
          onChange={(event) => onChange({ ...limits, language: event.target.value.trim() })}
          className="w-20 rounded-[3px] border border-line bg-white px-2 py-1 text-right placeholder:text-soft"
        />
        language of the search words (de, fr, en-AU …)
      </label>
    </>
  );
}
