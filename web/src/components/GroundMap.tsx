import "leaflet/dist/leaflet.css";
import L from "leaflet";
import { type ReactNode, useMemo } from "react";
import { GeoJSON, MapContainer, Pane, ScaleControl, TileLayer } from "react-leaflet";
import { useGround, useStatus } from "../queries/catalogue";
import { groundStyle, townPoint } from "./groundStyle";
import WorldGround from "./WorldGround";

interface Props {
  centre: [number, number];
  zoom: number;
  label: string;
  children?: ReactNode;
}

/** The ground below the pins: the shipped map of the world, tiles where a service of them is set, and a map of one's own. */
export default function GroundMap({ centre, zoom, label, children }: Props) {
  const ground = useGround();
  const status = useStatus().data;
  const renderer = useMemo(() => L.canvas({ padding: 0.4 }), []);
  const named = useMemo(
    () => new Set((ground.data?.features ?? []).map((feature) => String(feature.properties?.name))),
    [ground.data],
  );
  return (
    <section aria-label={label} className="h-full w-full">
      <MapContainer
        center={centre}
        zoom={zoom}
        minZoom={2}
        className="h-full w-full"
        preferCanvas
        renderer={renderer}
        attributionControl={status?.has_tiles ?? false}
      >
        <Pane name="world" style={{ zIndex: 140 }}>
          {status?.has_tiles ? (
            <TileLayer url="/api/map/tiles/{z}/{x}/{y}" attribution={status.map_attribution} pane="world" />
          ) : (
            <WorldGround named={named} />
          )}
        </Pane>
        <Pane name="ground" style={{ zIndex: 150 }}>
          {ground.data && (
            <GeoJSON data={ground.data} style={groundStyle} pointToLayer={townPoint} interactive={false} />
          )}
        </Pane>
        {children}
        <ScaleControl imperial={status?.units === "mi"} metric={status?.units !== "mi"} />
      </MapContainer>
    </section>
  );
}
