import L from "leaflet";
import { useEffect, useRef } from "react";
import { useMap } from "react-leaflet";
import type { Point } from "../queries/businesses";

/** Shows everybody once, when the pins are there for the first time. aside: px on the right that something else covers. */
export default function FitPins({ points, aside = 24 }: { points: Point[]; aside?: number }) {
  const map = useMap();
  const done = useRef(false);
  useEffect(() => {
    if (done.current || points.length === 0) return;
    done.current = true;
    map.fitBounds(L.latLngBounds(points.map(([, lat, lon]) => [lat, lon])), {
      paddingTopLeft: [24, 24],
      paddingBottomRight: [aside, 24],
      maxZoom: 14,
    });
  }, [map, points, aside]);
  return null;
}
