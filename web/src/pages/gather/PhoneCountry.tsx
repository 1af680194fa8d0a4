import { ErrorNote } from "../../components/ErrorNote";
import { countryNames } from "../../lib/format";
import { useSaveHome } from "../../queries/agency";
import { useCountries } from "../../queries/catalogue";

/** The answer that leaves national numbers as they are written. */
export const AS_WRITTEN = "as written";

interface Props {
  /** A number of the list that is written without a country’s code. */
  example: string;
  /** The country chosen, AS_WRITTEN, or "" for none yet. */
  answer: string;
  onAnswer: (answer: string) => void;
}

/** Asks once for the agency’s country when a list has national phone numbers and none is set. */
export default function PhoneCountry({ example, answer, onAnswer }: Props) {
  const countries = useCountries(true).data ?? [];
  const set = useSaveHome();
  const named = countryNames(countries);
  return (
    <div>
      <label>
        <span className="block text-acorn">Country of numbers like “{example}”</span>
        <select
          value={answer}
          disabled={set.isPending}
          onChange={(event) => {
            const chosen = event.target.value;
            if (chosen === AS_WRITTEN || chosen === "") onAnswer(chosen);
            else set.mutate({ country: chosen }, { onSuccess: () => onAnswer(chosen) });
          }}
          className="box"
        >
          <option value="">choose your country</option>
          <option value={AS_WRITTEN}>keep the numbers as written</option>
          {named.map(([code, name]) => (
            <option key={code} value={code}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <ErrorNote error={set.error} />
    </div>
  );
}
