import { Link } from "react-router";
import { duration } from "../../lib/format";
import { useSources } from "../../queries/catalogue";

interface Props {
  chosen: string[];
  requests: Record<string, number>;
  onChange: (chosen: string[]) => void;
}

/** Where to ask, with what each gives and what asking it takes. */
export default function SourcePicker({ chosen, requests, onChange }: Props) {
  // what is only joined to others’ rows is chosen under what to find out
  const sources = (useSources().data ?? []).filter((source) => !source.joins);
  const toggle = (id: string) =>
    onChange(chosen.includes(id) ? chosen.filter((item) => item !== id) : [...chosen, id]);
  return (
    <>
      <ul>
        {sources.map((source) => {
          const asked = requests[source.id];
          return (
            <li key={source.id}>
              <label className="flex items-baseline gap-1.5 rounded-[3px] px-1 py-[3px] hover:bg-faint">
                <input
                  type="checkbox"
                  checked={chosen.includes(source.id)}
                  onChange={() => toggle(source.id)}
                  className="accent-leaf"
                />
                <span className="min-w-0 flex-1">
                  {source.title} <span className="text-soft">– {source.hint}</span>
                  {!source.ready && chosen.includes(source.id) && (
                    <span className="block border-l-[3px] border-alarm pl-2">
                      It is not set up.{" "}
                      <Link to={`/settings#sources.${source.id}`} className="text-leaf-dark underline">
                        Enter its address and key
                      </Link>
                    </span>
                  )}
                </span>
                {asked !== undefined && (
                  <span className="text-right whitespace-nowrap text-soft">
                    {asked} asked, {duration(asked * source.pace_s)}
                  </span>
                )}
              </label>
            </li>
          );
        })}
      </ul>
      <p className="mt-0.5 text-soft">
        Two independent sources also show how much is missing.{" "}
        <Link to="/sweeps/directories" className="text-leaf-dark underline">
          Add a directory
        </Link>
      </p>
    </>
  );
}
