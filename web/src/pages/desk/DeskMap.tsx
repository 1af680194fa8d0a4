import L from "leaflet";
import { Fragment, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { CircleMarker, Marker, Polygon, Polyline, useMap, useMapEvents } from "react-leaflet";
import Supercluster from "supercluster";
import type { Service } from "../../api/client";
import { Button } from "../../components/Button";
import Density from "../../components/Density";
import FitPins from "../../components/FitPins";
import GroundMap from "../../components/GroundMap";
import { colour } from "../../lib/colours";
import { type Change, setting } from "../../lib/filter";
import { count } from "../../lib/format";
import { useView } from "../../lib/useView";
import { PAGE, type Point, useGrid, usePoints } from "../../queries/businesses";

type Corner = [number, number];

/** What the pins can be coloured by: a number, the best offer, or how many lie together. */
const MEASURES: [string, string][] = [
  ["score", "score"],
  ["value", "value"],
  ["reviews", "reviews"],
  ["rating", "rating"],
  ["gaps", "gaps found"],
  ["reach", "reach"],
  ["offer", "best offer"],
  ["density", "how many there are"],
];
/** From quiet to sold: paper brown to the acorn tone, readable on the ground and told apart without hue. */
const RAMP = [1, 2, 3, 4, 5].map((step) => colour(`ramp-${step}`));
const OFFER_COLOURS = Array.from({ length: 12 }, (_, at) => colour(`kind-${at + 1}`));
const NO_COLOUR = colour("pin-unknown");
const CLUSTER_BELOW_ZOOM = 15;

interface Props {
  filter: Record<string, string>;
  params: URLSearchParams;
  services: Service[];
  live: boolean;
  open: number | null;
  hovered: number | null;
  onHover: (id: number | null) => void;
  onOpen: (id: number) => void;
  onChange: (change: Change) => void;
}

const short = (number: number): string =>
  number >= 100 ? count(Math.round(number)) : String(Math.round(number * 100) / 100);

/** Four bounds that part the known numbers into fifths; fewer where many are alike. */
function fifths(points: Point[]): number[] {
  const known = points.flatMap(([, , , , number]) => (number === null ? [] : [number])).sort((a, b) => a - b);
  const at = (share: number) => known[Math.floor(share * known.length)] ?? 0;
  return [...new Set([0.2, 0.4, 0.6, 0.8].map(at))];
}

/** The same selection on the ground: clusters that open, colour by a measure, an outline drawn to filter by. */
export default function DeskMap(props: Props) {
  const { filter, params, services, live, open, hovered, onHover, onOpen, onChange } = props;
  const [measure, setMeasure] = useState("score");
  const named = measure === "offer" || measure === "density";
  const found = usePoints(filter, live, named ? "score" : measure).data;
  const points = useMemo(() => (found?.points ?? []) as Point[], [found]);
  const bounds = useMemo(() => fifths(points), [points]);
  const [drawing, setDrawing] = useState<Corner[] | null>(null);
  const colours = useMemo(
    () =>
      new Map(services.map((service, at) => [service.id, OFFER_COLOURS[at % OFFER_COLOURS.length] ?? ""])),
    [services],
  );
  const colourOf = useCallback(
    ([, , , offer, number]: Point) =>
      measure === "offer"
        ? (colours.get(offer) ?? NO_COLOUR)
        : number === null
          ? NO_COLOUR
          : (RAMP[bounds.filter((bound) => number >= bound).length] ?? NO_COLOUR),
    [measure, colours, bounds],
  );
  const outline: Corner[] = (params.get("within") ?? "")
    .split(" ")
    .filter(Boolean)
    .map((corner) => corner.split(",").map(Number) as Corner);
  const finish = (corners: Corner[]) => {
    setDrawing(null);
    if (corners.length >= 3)
      onChange(
        setting("within", corners.map(([lat, lon]) => `${lat.toFixed(5)},${lon.toFixed(5)}`).join(" ")),
      );
  };
  const offers = services.filter((service) => points.some((point) => point[3] === service.id));
  return (
    <div className="flex min-h-0 flex-1">
      <Beside filter={filter} live={live} hovered={hovered} open={open} onHover={onHover} onOpen={onOpen} />
      <div className="relative min-w-0 flex-1">
        <GroundMap centre={[-37, 160]} zoom={9} label="Map of the filtered businesses">
          <FitPins points={points} aside={260} />
          {measure === "density" ? (
            <Density points={points} />
          ) : (
            <Pins
              points={points}
              colourOf={colourOf}
              open={open}
              hovered={hovered}
              onHover={onHover}
              onOpen={onOpen}
            />
          )}
          {outline.length > 2 && (
            <Polygon
              positions={outline}
              pathOptions={{ color: colour("leaf-dark"), weight: 2, fillOpacity: 0.05 }}
            />
          )}
          {drawing && <Drawing corners={drawing} onCorner={setDrawing} onFinish={finish} />}
        </GroundMap>
        <div className="absolute top-2 right-2 z-[500] grid gap-1.5 border border-line bg-sheet p-2">
          <label className="flex items-center gap-1.5">
            Colour by
            <select value={measure} onChange={(event) => setMeasure(event.target.value)} className="box">
              {MEASURES.map(([id, label]) => (
                <option key={id} value={id}>
                  {label}
                </option>
              ))}
            </select>
          </label>
          {!named && bounds.length > 0 && (
            <ul aria-label="Fifths of them" className="flex items-center gap-2 text-xs text-soft">
              {[null, ...bounds].map((bound, at) => (
                <li key={bound ?? "least"} className="flex items-center gap-1">
                  <i className="size-2.5 rounded-full" style={{ background: RAMP[at] }} />
                  {bound === null ? "less" : `${short(bound)}+`}
                </li>
              ))}
            </ul>
          )}
          {measure === "offer" && (
            <ul className="grid gap-0.5 text-xs">
              {offers.map((service) => (
                <li key={service.id} className="flex items-center gap-1">
                  <i className="size-2.5 rounded-full" style={{ background: colours.get(service.id) }} />
                  {service.title}
                </li>
              ))}
            </ul>
          )}
          <span className="flex gap-1">
            {drawing ? (
              <>
                <Button look="main" disabled={drawing.length < 3} onClick={() => finish(drawing)}>
                  Filter by it
                </Button>
                <Button onClick={() => setDrawing(null)}>Cancel</Button>
              </>
            ) : (
              <Button onClick={() => setDrawing([])}>Draw an outline</Button>
            )}
            {outline.length > 0 && !drawing && (
              <Button onClick={() => onChange(setting("within", ""))}>Remove it</Button>
            )}
          </span>
          {drawing && (
            <p className="max-w-52 text-xs text-soft">
              Click the corners one after another; then filter by the outline.
            </p>
          )}
          {found && (
            <p className="text-xs text-soft">
              {count(points.length)} of {count(found.total)} have a pin
              {found.cut && "; the most valuable are shown"}
            </p>
          )}
        </div>
      </div>
    </div>
  );
}

/** The first rows beside the map: a row under the pointer is shown on the map, and the other way round. */
function Beside(props: Pick<Props, "filter" | "live" | "hovered" | "open" | "onHover" | "onOpen">) {
  const { filter, live, hovered, open, onHover, onOpen } = props;
  const grid = useGrid(filter, "-value", [0], live);
  const rows = grid.byPage.get(0)?.rows ?? [];
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => {
    if (hovered === null || list.current?.matches(":hover")) return;
    list.current?.querySelector(`[data-beside="${hovered}"]`)?.scrollIntoView({ block: "nearest" });
  }, [hovered]);
  return (
    <ul
      ref={list}
      aria-label="The most valuable of them"
      onMouseLeave={() => onHover(null)}
      className="w-[230px] shrink-0 overflow-y-auto border-r border-line bg-sheet"
    >
      {rows.map((row) => (
        <li key={row.id} data-beside={row.id}>
          <button
            type="button"
            onMouseEnter={() => onHover(row.id)}
            onFocus={() => onHover(row.id)}
            onClick={() => onOpen(row.id)}
            className={`flex w-full items-baseline gap-2 border-b border-faint px-2.5 py-1 text-left ${open === row.id ? "bg-leaf-soft" : hovered === row.id ? "bg-faint" : ""}`}
          >
            <span className="min-w-0 flex-1 truncate">{row.name}</span>
            <span className="w-6 text-right font-semibold">{row.score ?? "–"}</span>
          </button>
        </li>
      ))}
      {(grid.total ?? 0) > PAGE && (
        <li className="px-2.5 py-1 text-soft">
          the first {PAGE} of {count(grid.total ?? 0)}; the table has them all
        </li>
      )}
    </ul>
  );
}

interface PinsProps {
  points: Point[];
  colourOf: (point: Point) => string;
  open: number | null;
  hovered: number | null;
  onHover: (id: number | null) => void;
  onOpen: (id: number) => void;
}

const countIcon = (number: number): L.DivIcon =>
  L.divIcon({ html: count(number), className: "cluster-count", iconSize: [34, 16] });

function Pins({ points, colourOf, open, hovered, onHover, onOpen }: PinsProps) {
  const { map, bounds, zoom } = useView();
  const index = useMemo(() => {
    const made = new Supercluster<{ point: Point }>({ radius: 44, maxZoom: CLUSTER_BELOW_ZOOM });
    made.load(
      points.map((point) => ({
        type: "Feature",
        geometry: { type: "Point", coordinates: [point[2], point[1]] },
        properties: { point },
      })),
    );
    return made;
  }, [points]);
  const box: [number, number, number, number] = [
    bounds.getWest(),
    bounds.getSouth(),
    bounds.getEast(),
    bounds.getNorth(),
  ];
  const shown = index.getClusters(box, Math.round(zoom));
  const special = points.find((point) => point[0] === (hovered ?? open));
  return (
    <>
      {shown.map((item) => {
        const [lon = 0, lat = 0] = item.geometry.coordinates;
        if ("cluster" in item.properties) {
          const { cluster_id, point_count } = item.properties as { cluster_id: number; point_count: number };
          return (
            <Fragment key={`c${cluster_id}`}>
              <CircleMarker
                center={[lat, lon]}
                radius={9 + Math.min(16, Math.sqrt(point_count))}
                pathOptions={{
                  color: colour("ink"),
                  weight: 1,
                  fillColor: colour("sheet"),
                  fillOpacity: 0.92,
                }}
                eventHandlers={{
                  click: () => map.setView([lat, lon], index.getClusterExpansionZoom(cluster_id)),
                }}
              />
              <Marker
                position={[lat, lon]}
                icon={countIcon(point_count)}
                interactive={false}
                keyboard={false}
              />
            </Fragment>
          );
        }
        const { point } = item.properties as { point: Point };
        return (
          <CircleMarker
            key={`p${point[0]}`}
            center={[lat, lon]}
            radius={5}
            pathOptions={{ color: colour("sheet"), weight: 1, fillColor: colourOf(point), fillOpacity: 0.95 }}
            eventHandlers={{
              mouseover: () => onHover(point[0]),
              mouseout: () => onHover(null),
              click: () => onOpen(point[0]),
            }}
          />
        );
      })}
      {special && (
        <CircleMarker
          center={[special[1], special[2]]}
          radius={9}
          interactive={false}
          pathOptions={{ color: colour("ink"), weight: 2.5, fillColor: colourOf(special), fillOpacity: 1 }}
        />
      )}
    </>
  );
}

interface DrawingProps {
  corners: Corner[];
  onCorner: (corners: Corner[]) => void;
  onFinish: (corners: Corner[]) => void;
}

function Drawing({ corners, onCorner, onFinish }: DrawingProps) {
  const map = useMap();
  useEffect(() => {
    map.doubleClickZoom.disable();
    map.getContainer().style.cursor = "crosshair";
    return () => {
      map.doubleClickZoom.enable();
      map.getContainer().style.cursor = "";
    };
  }, [map]);
  useMapEvents({
    click: (event) => onCorner([...corners, [event.latlng.lat, event.latlng.lng]]),
    dblclick: () => onFinish(corners),
  });
  return (
    <>
      <Polyline
        positions={corners}
        pathOptions={{ color: colour("leaf-dark"), weight: 2, dashArray: "5 4" }}
      />
      {corners.map((corner) => (
        <CircleMarker
          key={corner.join()}
          center={corner}
          radius={3}
          interactive={false}
          pathOptions={{ color: colour("leaf-dark"), fillOpacity: 1 }}
        />
      ))}
    </>
  );
}
