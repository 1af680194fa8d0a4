import L from "leaflet";
import { useMemo } from "react";
import { Rectangle, Tooltip } from "react-leaflet";
import { colour } from "../lib/colours";
import { count } from "../lib/format";
import { useView } from "../lib/useView";
import type { Point } from "../queries/businesses";

const CELL_PX = 34;

interface Props {
  points: Point[];
  /** What a square holds of the numbers of its points; how many there are, if nothing is given. */
  sumOf?: (numbers: (number | null)[]) => number | null;
  say?: (value: number) => string;
}

/** Squares of the screen, darker where they hold more. */
export default function Density({ points, sumOf = (numbers) => numbers.length, say = count }: Props) {
  const { map, bounds, zoom } = useView();
  const cells = useMemo(() => {
    const found = new Map<string, (number | null)[]>();
    for (const [, lat, lon, , number] of points) {
      if (!bounds.contains([lat, lon])) continue;
      const at = map.project([lat, lon], zoom);
      const key = `${Math.floor(at.x / CELL_PX)},${Math.floor(at.y / CELL_PX)}`;
      found.set(key, [...(found.get(key) ?? []), number]);
    }
    return [...found].flatMap(([key, numbers]): [string, number][] => {
      const value = sumOf(numbers);
      return value === null ? [] : [[key, value]];
    });
  }, [points, bounds, map, zoom, sumOf]);
  const most = Math.max(1e-9, ...cells.map(([, value]) => value));
  return (
    <>
      {cells.map(([key, value]) => {
        const [x = 0, y = 0] = key.split(",").map(Number);
        const corner = (dx: number, dy: number) =>
          map.unproject([(x + dx) * CELL_PX, (y + dy) * CELL_PX], zoom);
        return (
          <Rectangle
            key={`${zoom}:${key}:${value}`}
            bounds={L.latLngBounds(corner(0, 0), corner(1, 1))}
            pathOptions={{
              stroke: false,
              fillColor: colour("pin"),
              fillOpacity: 0.12 + 0.68 * Math.sqrt(Math.max(0, value) / most),
            }}
          >
            <Tooltip>{say(value)}</Tooltip>
          </Rectangle>
        );
      })}
    </>
  );
}
