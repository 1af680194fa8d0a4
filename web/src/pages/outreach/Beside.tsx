import { usePresence } from "../../queries/team";

/** Says when a colleague has the same business open, before both of them ring it. */
export default function Beside({ id }: { id: number }) {
  const others = usePresence(id);
  if (others.length === 0) return null;
  return (
    <output className="block border-l-[3px] border-acorn bg-acorn-soft/60 px-2.5 py-1.5 text-ink">
      {others.join(" and ")} {others.length === 1 ? "has" : "have"} this call sheet open too.
    </output>
  );
}
