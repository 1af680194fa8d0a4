import L from "leaflet";
import { useEffect } from "react";
import { Circle, CircleMarker, Polygon, Rectangle, useMap } from "react-leaflet";
import type { Run } from "../../api/client";
import { corners, isCircle, keyOf } from "../../lib/areas";
import { colour } from "../../lib/colours";
import { usePoints } from "../../queries/businesses";
import { useTiles } from "../../queries/sweeps";

const DRAWN_TILES = 3000;
const EDGE = { color: colour("leaf-dark"), weight: 2, fill: false, dashArray: "6 4" };

/** The territory, its tiles as they are read and split, and the businesses found so far. */
export default function RunLayers({ run }: { run: Run }) {
  const map = useMap();
  const live = run.state === "running";
  const tiles = useTiles(run.id, live).data ?? [];
  const points = usePoints({ run: String(run.id) }, live).data?.points ?? [];
  const bounds = run.plan.bounds?.join();
  useEffect(() => {
    const [south, west, north, east] = (bounds ?? "").split(",").map(Number);
    if (south === undefined || west === undefined || north === undefined || east === undefined) return;
    map.fitBounds(L.latLngBounds([south, west], [north, east]), { animate: false });
  }, [map, bounds]);
  return (
    <>
      {run.plan.areas.map((area) =>
        isCircle(area) ? (
          <Circle key={keyOf(area)} center={[area.lat, area.lon]} radius={area.radius_m} pathOptions={EDGE} />
        ) : (
          <Polygon key={keyOf(area)} positions={corners(area)} pathOptions={EDGE} />
        ),
      )}
      {tiles.slice(-DRAWN_TILES).map((tile) => {
        const waiting = tile.state === "ready" || tile.state === "doing";
        const shade =
          tile.state === "failed"
            ? colour("alarm")
            : waiting
              ? colour("mark-ok")
              : tile.full
                ? colour("acorn")
                : colour("leaf");
        return (
          <Rectangle
            key={`${tile.source}${tile.trade}${tile.south},${tile.west},${tile.north}`}
            bounds={[
              [tile.south, tile.west],
              [tile.north, tile.east],
            ]}
            pathOptions={{
              color: shade,
              weight: 1,
              dashArray: waiting ? "3 3" : undefined,
              fillColor: shade,
              fillOpacity: !waiting && !tile.full ? 0.02 : 0,
            }}
          />
        );
      })}
      {points.map(([id, pinLat, pinLon]) => (
        <CircleMarker
          key={id}
          center={[Number(pinLat), Number(pinLon)]}
          radius={2.5}
          pathOptions={{ stroke: false, fillColor: colour("ink"), fillOpacity: 0.75 }}
        />
      ))}
    </>
  );
}
