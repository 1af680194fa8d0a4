import { colour } from "../lib/colours";
import "leaflet/dist/leaflet.css";
import L from "leaflet";
import { type ReactNode, useMemo } from "react";
import { GeoJSON, MapContainer, Pane, ScaleControl } from "react-leaflet";
import { useGround } from "../queries/catalogue";

const STYLES: Record<string, L.PathOptions> = {
  land: { color: colour("map-shore"), weight: 1, fillColor: colour("map-land"), fillOpacity: 1 },
  "built-up": { stroke: false, fillColor: colour("map-town"), fillOpacity: 1 },
  road: { color: colour("map-road"), weight: 2 },
};

function nameOf(feature: GeoJSON.Feature, at: L.LatLng): L.Layer {
  const town = feature.properties?.kind === "town";
  if (!town) return L.layerGroup();
  const dot = L.circleMarker(at, { radius: 2, color: colour("map-place"), weight: 1, interactive: false });
  dot.bindTooltip(String(feature.properties?.name), {
    permanent: true,
    direction: "top",
    className: "place-name",
    offset: [0, -1],
  });
  return dot;
}

interface Props {
  centre: [number, number];
  zoom: number;
  label: string;
  children?: ReactNode;
}

/** The ground below the pins, drawn from the map that ships with the data: no tiles are fetched from anywhere. */
export default function GroundMap({ centre, zoom, label, children }: Props) {
  const ground = useGround();
  const renderer = useMemo(() => L.canvas({ padding: 0.4 }), []);
  return (
    <section aria-label={label} className="h-full w-full">
      <MapContainer
        center={centre}
        zoom={zoom}
        minZoom={3}
        className="h-full w-full"
        preferCanvas
        renderer={renderer}
        attributionControl={false}
      >
        <Pane name="ground" style={{ zIndex: 150 }}>
          {ground.data && (
            <GeoJSON
              data={ground.data}
              style={(feature) => STYLES[String(feature?.properties?.kind)] ?? {}}
              pointToLayer={nameOf}
              interactive={false}
            />
          )}
        </Pane>
        {children}
        <ScaleControl imperial={false} />
      </MapContainer>
    </section>
  );
}
