import type { Site, Website } from "../../queries/website";

interface Props {
  themes: Website["themes"];
  sets: string[];
  theme: string;
  colours: Site["colours"];
  formTo: string;
  email: string;
  onChange: (look: { theme?: string; colours?: string; form_to?: string }) => void;
}

const SETS: Record<string, string> = { light: "Light", tinted: "Tinted", deep: "Dark" };

/** The theme and its colours; themes that suit the trade come first. */
export default function Look({ themes, sets, theme, colours, formTo, email, onChange }: Props) {
  return (
    <>
      <h2 className="mt-5 text-[15px]">Theme</h2>
      {themes.map((item) => (
        <label key={item.id} className="flex items-start gap-1.5 py-0.5">
          <input
            type="radio"
            name="theme"
            checked={theme === item.id}
            onChange={() => onChange({ theme: item.id })}
            className="mt-1"
          />
          <span>
            {item.title}
            {item.fits && <span className="text-leaf-dark"> · suits the trade</span>}
            <span className="block text-xs text-soft">{item.about}</span>
          </span>
        </label>
      ))}
      <h2 className="mt-4 text-[15px]">Colours</h2>
      <p className="text-xs text-soft">The colour is that of the old website, where one stands out.</p>
      {sets.map((name) => (
        <label key={name} className="flex items-center gap-1.5 py-0.5">
          <input
            type="radio"
            name="colours"
            checked={colours === name}
            onChange={() => onChange({ colours: name })}
          />
          {SETS[name] ?? name}
        </label>
      ))}
      <h2 className="mt-4 text-[15px]">Contact form</h2>
      <label>
        It goes to
        <input
          value={formTo}
          placeholder={email || "an e-mail address, or https://…"}
          onChange={(event) => onChange({ form_to: event.target.value })}
          className="w-full box"
        />
      </label>
      {!formTo && !email && (
        <p className="text-xs text-soft">No e-mail is known: there is no form until you enter an address.</p>
      )}
    </>
  );
}
