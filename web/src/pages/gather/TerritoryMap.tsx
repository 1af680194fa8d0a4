import L from "leaflet";
import { useEffect, useMemo, useState } from "react";
import { Circle, CircleMarker, Marker, Polygon, Polyline, useMap, useMapEvents } from "react-leaflet";
import type { Area } from "../../api/client";
import { corners, isCircle, keyOf, outline, ringsOf } from "../../lib/areas";
import { colour } from "../../lib/colours";
import TerritoryCircle from "./TerritoryCircle";

const QUIET = { color: colour("swept"), weight: 1.5, fillColor: colour("leaf"), fillOpacity: 0.06 };
const CHOSEN = { color: colour("leaf-dark"), weight: 2, fillColor: colour("leaf"), fillOpacity: 0.12 };

const HELD = { stroke: false, fillColor: colour("held"), fillOpacity: 0.55 };

interface Props {
  areas: Area[];
  chosen: number;
  drawing: boolean;
  /** Places of what is held already, as [lat, lon]. */
  pins: number[][];
  onChange: (area: Area) => void;
  onChoose: (index: number) => void;
  onDrawn: (area: Area | null) => void;
}

/** All areas of the territory; the chosen one has handles; a new outline is drawn corner by corner. */
export default function TerritoryMap({ areas, chosen, drawing, pins, onChange, onChoose, onDrawn }: Props) {
  const area = areas[chosen];
  return (
    <>
      {pins.map(([lat, lon]) => (
        <CircleMarker
          key={`${lat},${lon}`}
          center={[lat ?? 0, lon ?? 0]}
          radius={2.5}
          pathOptions={HELD}
          interactive={false}
        />
      ))}
      {areas.map((item, index) => {
        if (index === chosen && isCircle(item)) return null;
        const look = index === chosen ? CHOSEN : QUIET;
        const pick = { click: () => onChoose(index) };
        const key = keyOf(item);
        return isCircle(item) ? (
          <Circle
            key={key}
            center={[item.lat, item.lon]}
            radius={item.radius_m}
            pathOptions={look}
            eventHandlers={pick}
          />
        ) : (
          <Polygon key={key} positions={ringsOf(item)} pathOptions={look} eventHandlers={pick} />
        );
      })}
      {drawing ? (
        <Drawing onDrawn={onDrawn} />
      ) : isCircle(area) ? (
        <TerritoryCircle
          centre={[area.lat, area.lon]}
          radius={area.radius_m}
          onCentre={([lat, lon]) => onChange({ ...area, name: "", lat, lon })}
          onRadius={(metres) =>
            onChange({ ...area, radius_m: Math.max(100, Math.round(metres / 100) * 100) })
          }
        />
      ) : (
        area && <Corners area={area} onChange={onChange} />
      )}
    </>
  );
}

const handle = () =>
  L.divIcon({
    className: "",
    iconSize: [14, 14],
    html: '<span style="display:block;width:12px;height:12px;border:2px solid var(--color-leaf-dark);background:var(--color-sheet)"></span>',
  });

function Corners({ area, onChange }: { area: Area; onChange: (area: Area) => void }) {
  const icon = useMemo(handle, []);
  const map = useMap();
  const points = corners(area);
  const bounds = L.latLngBounds(points).toBBoxString();
  useEffect(() => {
    const [west, south, east, north] = bounds.split(",").map(Number);
    const whole = L.latLngBounds([south ?? 0, west ?? 0], [north ?? 0, east ?? 0]);
    if (!map.getBounds().contains(whole)) map.fitBounds(whole.pad(0.1), { animate: false });
  }, [map, bounds]);
  if (points.length > 200) return null; // an imported coastline is not dragged corner by corner
  return points.map((point, index) => (
    <Marker
      // biome-ignore lint/suspicious/noArrayIndexKey: a corner is known by its place in the outline
      key={index}
      position={point}
      icon={icon}
      draggable
      title={`Corner ${index + 1}`}
      eventHandlers={{
        dragend: (event) => {
          const at = (event.target as L.Marker).getLatLng();
          onChange(outline(area.name ?? "", points.with(index, [at.lat, at.lng]), area.rings?.slice(1)));
        },
      }}
    />
  ));
}

function Drawing({ onDrawn }: { onDrawn: (area: Area | null) => void }) {
  const [points, setPoints] = useState<[number, number][]>([]);
  const map = useMap();
  const icon = useMemo(handle, []);
  useMapEvents({
    click: (event) => setPoints((before) => [...before, [event.latlng.lat, event.latlng.lng]]),
    keydown: (event) => {
      if (event.originalEvent.key === "Escape") onDrawn(null);
      if (event.originalEvent.key === "Enter" && points.length > 2) onDrawn(outline("Outline", points));
    },
  });
  return (
    <>
      <Polyline
        positions={points}
        pathOptions={{ color: colour("leaf-dark"), weight: 2, dashArray: "4 4" }}
      />
      {points.map((point, index) => (
        <Marker key={point.join()} position={point} icon={icon} title={`Drawn corner ${index + 1}`} />
      ))}
      <div className="leaflet-top leaflet-right">
        <div
          ref={(node) => {
            if (node) L.DomEvent.disableClickPropagation(node);
          }}
          className="leaflet-control flex items-center gap-2 border border-line bg-sheet px-2.5 py-1.5 text-[13px]"
        >
          {points.length < 3 ? "Click the corners on the map" : `${points.length} corners`}
          <button
            type="button"
            disabled={points.length < 3}
            className="rounded-[3px] border border-leaf bg-leaf px-2 py-0.5 text-white disabled:opacity-50"
            onClick={() => {
              onDrawn(outline("Outline", points));
              map.getContainer().focus();
            }}
          >
            Close the outline
          </button>
          <button type="button" className="text-leaf-dark underline" onClick={() => onDrawn(null)}>
            Cancel
          </button>
        </div>
      </div>
    </>
  );
}
