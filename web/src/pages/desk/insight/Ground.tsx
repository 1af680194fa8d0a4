import { useCallback, useMemo } from "react";
import Density from "../../../components/Density";
import FitPins from "../../../components/FitPins";
import GroundMap from "../../../components/GroundMap";
import { count } from "../../../lib/format";
import { type Point, usePoints } from "../../../queries/businesses";
import { useCurrency } from "../../../queries/catalogue";
import { shown } from "./CrossTable";

interface Props {
  measure: string;
  filter: Record<string, string>;
}

/** The same selection and measure on the ground, in squares; the table itself stands below. */
export default function Ground({ measure, filter }: Props) {
  const currency = useCurrency();
  const counts = measure === "count" || measure === "share";
  const of = measure.replace(/^(mean|sum of) /, "");
  const found = usePoints(filter, false, counts ? "score" : of).data;
  const points = useMemo(() => (found?.points ?? []) as Point[], [found]);
  const sumOf = useCallback(
    (numbers: (number | null)[]) => {
      const known = numbers.filter((number) => number !== null);
      if (counts) return numbers.length;
      if (known.length === 0) return null;
      const sum = known.reduce((all, number) => all + number, 0);
      return measure.startsWith("sum") ? sum : sum / known.length;
    },
    [counts, measure],
  );
  const say = (value: number) => shown(value, counts ? "count" : measure, currency);
  return (
    <figure className="relative h-[340px] shrink-0 border-b border-line">
      <GroundMap centre={[-37, 160]} zoom={9} label="On the map">
        <FitPins points={points} />
        <Density points={points} sumOf={sumOf} say={say} />
      </GroundMap>
      <figcaption className="absolute top-2 right-2 z-[500] border border-line bg-sheet px-2 py-1 text-xs">
        {counts ? "number of businesses" : measure} by square
        {found && (
          <span className="block text-soft">
            {count(points.length)} of {count(found.total)} have a pin
            {found.cut && "; the most valuable are shown"}
          </span>
        )}
      </figcaption>
    </figure>
  );
}
