import L from "leaflet";
import { useEffect, useMemo } from "react";
import { Circle, Marker, useMap, useMapEvents } from "react-leaflet";
import { colour } from "../../lib/colours";

interface Props {
  centre: [number, number];
  radius: number;
  onCentre: (point: [number, number]) => void;
  onRadius: (metres: number) => void;
}

const DRAWN_MAX_M = 200_000;
const handle = (shape: string) =>
  L.divIcon({
    className: "",
    iconSize: [16, 16],
    html: `<span style="display:block;width:14px;height:14px;border:2px solid var(--color-leaf-dark);background:var(--color-sheet);${shape}"></span>`,
  });

/** A circle that is moved by its middle and widened by its edge. */
export default function TerritoryCircle({ centre, radius, onCentre, onRadius }: Props) {
  const map = useMap();
  const drawn = Math.min(radius, DRAWN_MAX_M);
  const middle = useMemo(() => handle("border-radius:50%"), []);
  const rim = useMemo(() => handle("border-radius:2px;cursor:ew-resize"), []);
  const edge = useMemo((): [number, number] => {
    const perDegree = 111_320 * Math.cos((centre[0] * Math.PI) / 180);
    return [centre[0], centre[1] + drawn / Math.max(perDegree, 1)];
  }, [centre, drawn]);
  useMapEvents({ click: (event) => onCentre([event.latlng.lat, event.latlng.lng]) });
  useEffect(() => {
    if (drawn < 50) return;
    const bounds = L.latLng(centre).toBounds(drawn * 2);
    if (
      !map.getBounds().contains(bounds) ||
      map.getBounds().getEast() - map.getBounds().getWest() > (bounds.getEast() - bounds.getWest()) * 6
    )
      map.fitBounds(bounds.pad(0.5), { animate: false });
  }, [map, centre, drawn]);
  return (
    <>
      <Circle
        center={centre}
        radius={drawn}
        pathOptions={{ color: colour("leaf-dark"), weight: 2, fillColor: colour("leaf"), fillOpacity: 0.12 }}
      />
      <Marker
        position={centre}
        icon={middle}
        draggable
        title="Middle of the territory"
        eventHandlers={{
          dragend: (event) => {
            const at = (event.target as L.Marker).getLatLng();
            onCentre([at.lat, at.lng]);
          },
        }}
      />
      <Marker
        position={edge}
        icon={rim}
        draggable
        title="Edge of the territory"
        eventHandlers={{
          drag: (event) => onRadius((event.target as L.Marker).getLatLng().distanceTo(L.latLng(centre))),
        }}
      />
    </>
  );
}
