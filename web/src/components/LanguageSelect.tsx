import { useLanguages } from "../queries/languages";

interface Props {
  label: string;
  value: string;
  /** What no choice means; left out where there must be one. */
  none?: string;
  onChange: (language: string) => void;
  className?: string;
}

/** One of the languages that owners can be written to in. */
export default function LanguageSelect({ label, value, none, onChange, className = "" }: Props) {
  const languages = useLanguages().data ?? [];
  return (
    <select
      aria-label={label}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      className={`box ${className}`}
    >
      {none !== undefined && <option value="">{none}</option>}
      {languages.map((item) => (
        <option key={item.code} value={item.code}>
          {item.name}
        </option>
      ))}
    </select>
  );
}
