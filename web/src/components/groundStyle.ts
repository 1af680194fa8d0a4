import L from "leaflet";
import { colour } from "../lib/colours";

const STYLES: Record<string, L.PathOptions> = {
  land: { color: colour("map-shore"), weight: 1, fillColor: colour("map-land"), fillOpacity: 1 },
  lake: { color: colour("map-shore"), weight: 0.5, fillColor: colour("map-water"), fillOpacity: 1 },
  state: { color: colour("map-shore"), weight: 0.7, dashArray: "3 4", fill: false },
  "built-up": { stroke: false, fillColor: colour("map-town"), fillOpacity: 1 },
  road: { color: colour("map-road"), weight: 2 },
};

/** How a piece of ground is drawn, by its kind. */
export const groundStyle = (feature: GeoJSON.Feature | undefined): L.PathOptions =>
  STYLES[String(feature?.properties?.kind)] ?? {};

/** A town: a dot with its name; other points are not drawn. */
export function townPoint(feature: GeoJSON.Feature, at: L.LatLng): L.Layer {
  if (feature.properties?.kind !== "town") return L.layerGroup();
  const dot = L.circleMarker(at, { radius: 2, color: colour("map-place"), weight: 1, interactive: false });
  dot.bindTooltip(String(feature.properties?.name), {
    permanent: true,
    direction: "top",
    className: "place-name",
    offset: [0, -1],
  });
  return dot;
}
