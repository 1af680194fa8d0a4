import type { Schemas } from "../../api/client";
import { useStarters } from "../../queries/gathering";

interface Props {
  kind: "directory" | "api";
  onChoose: (starter: Schemas["StarterResponse"]) => void;
}

/** Begin with a recipe for software that many sites run on. */
export default function StartFrom({ kind, onChoose }: Props) {
  const starters = (useStarters().data ?? []).filter((starter) => starter[kind] !== null);
  if (starters.length === 0) return null;
  return (
    <details className="w-full">
      <summary className="cursor-pointer text-leaf-dark">Start from a recipe that ships</summary>
      <ul className="mt-1 max-w-[760px]">
        {starters.map((starter) => (
          <li key={starter[kind]?.title}>
            <button
              type="button"
              className="w-full rounded-[3px] px-2 py-1 text-left hover:bg-faint"
              onClick={() => onChoose(starter)}
            >
              <span className="font-medium">{starter[kind]?.title}</span>{" "}
              <span className="text-soft">– {starter.about}</span>
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}
