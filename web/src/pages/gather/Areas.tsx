import { useState } from "react";
import type { Area, Place, Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { circle, isCircle, keyOf, MAX_KM, partsOf, scaled, sizeOf } from "../../lib/areas";
import { count } from "../../lib/format";
import {
  useImportRegions,
  useKeepTerritory,
  useReadAreas,
  useRegionAreas,
  useTerritories,
} from "../../queries/gathering";
import Sharing from "../team/Sharing";
import PlaceSearch from "./PlaceSearch";

interface Props {
  areas: Area[];
  chosen: number;
  drawing: boolean;
  held: Schemas["KnownCountsResponse"] | undefined;
  onAreas: (areas: Area[], chosen: number) => void;
  onDraw: () => void;
}

/** The parts of a territory: search a place, draw, paste towns, import GeoJSON, or take a kept one. */
export default function Areas({ areas, chosen, drawing, held, onAreas, onDraw }: Props) {
  const area = areas[chosen];
  const add = (more: Area[]) => {
    // the circle that nobody has named yet is a placeholder
    const kept = areas.filter((item) => item.name || !isCircle(item));
    onAreas([...kept, ...more], kept.length + more.length - 1);
  };
  const region = useRegionAreas();
  const chooseRegion = (found: Schemas["Region"]) =>
    region.mutate(found.id, { onSuccess: (result) => add(result.areas) });
  const parts = partsOf(areas);
  const choosePlace = (place: Place) => add([circle(place.name, place.lat, place.lon, place.radius_km)]);
  return (
    <>
      <PlaceSearch onPlace={choosePlace} onRegion={chooseRegion} />
      <ErrorNote error={region.error} />
      <ul className="mt-1.5" aria-label="Areas of the sweep">
        {parts.map((part) => (
          <AreaLine
            key={keyOf(areas[part.at[0] ?? 0] as Area)}
            areas={part.at.map((index) => areas[index] as Area)}
            chosen={part.at.includes(chosen)}
            onChoose={() => onAreas(areas, part.at[0] ?? 0)}
            onRemove={
              parts.length > 1
                ? () =>
                    onAreas(
                      areas.filter((_, other) => !part.at.includes(other)),
                      0,
                    )
                : undefined
            }
          />
        ))}
      </ul>
      {held && (
        <p className="text-soft">
          {held.total === 0
            ? "You have no businesses there yet."
            : `${count(held.total)} businesses are in store there already${held.cut ? "; the map shows some of them" : ", shown as dots on the map"}.`}
        </p>
      )}
      {isCircle(area) && (
        <RadiusLine
          km={area.radius_m / 1000}
          onKm={(km) => onAreas(areas.with(chosen, { ...area, radius_m: km * 1000 }), chosen)}
        />
      )}
      <p className="mt-1.5 flex flex-wrap gap-1.5">
        <Button onClick={onDraw} disabled={drawing}>
          Draw an outline
        </Button>
        <Button
          onClick={() =>
            onAreas(
              areas.map((item) => scaled(item, 1.25)),
              chosen,
            )
          }
        >
          Wider
        </Button>
        <Button
          onClick={() =>
            onAreas(
              areas.map((item) => scaled(item, 0.8)),
              chosen,
            )
          }
        >
          Narrower
        </Button>
      </p>
      <More areas={areas} onAdd={add} onReplace={(next) => onAreas(next, 0)} />
    </>
  );
}

interface LineProps {
  areas: Area[];
  chosen: boolean;
  onChoose: () => void;
  onRemove: (() => void) | undefined;
}

function AreaLine({ areas, chosen, onChoose, onRemove }: LineProps) {
  const [first] = areas;
  const name = first?.name || "Circle";
  return (
    <li
      className={`flex items-baseline gap-2 border-l-[3px] py-0.5 pl-2 ${chosen ? "border-leaf bg-leaf-soft/50" : "border-transparent"}`}
    >
      <button type="button" className="min-w-0 flex-1 truncate text-left" onClick={onChoose}>
        {name}{" "}
        <span className="text-soft">
          {areas.length > 1 ? `in ${areas.length} parts` : first && sizeOf(first)}
        </span>
      </button>
      {onRemove && (
        <button
          type="button"
          aria-label={`Remove ${name.toLowerCase() === "circle" ? "circle" : name}`}
          className="px-1 text-soft hover:text-alarm"
          onClick={onRemove}
        >
          ×
        </button>
      )}
    </li>
  );
}

// the slider is logarithmic from .5 to 200 km: a town and a region are both a hand's width away
const kmOf = (slider: number): number => {
  const value = 0.5 * (MAX_KM / 0.5) ** (slider / 100);
  return Number(value < 10 ? value.toFixed(1) : value.toFixed(0));
};
const sliderOf = (km: number): number =>
  Math.round((100 * Math.log(Math.max(km, 0.5) / 0.5)) / Math.log(MAX_KM / 0.5));

function RadiusLine({ km, onKm }: { km: number; onKm: (km: number) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const shown =
    typed !== null && Number(typed.replace(",", ".")) === km ? typed : String(Number(km.toFixed(2)));
  return (
    <div className="mt-1 flex items-center gap-2">
      <span className="w-14">Radius</span>
      <input
        type="range"
        min={0}
        max={100}
        value={sliderOf(km)}
        aria-label="Radius by slider"
        onChange={(event) => onKm(kmOf(Number(event.target.value)))}
        className="min-w-0 flex-1 accent-leaf"
      />
      <input
        inputMode="decimal"
        value={typed === "" ? "" : shown}
        aria-label="Radius in kilometres"
        onChange={(event) => {
          setTyped(event.target.value);
          onKm(Number(event.target.value.replace(",", ".")) || 0);
        }}
        className="w-16 rounded-[3px] border border-line bg-white px-2 py-1 text-right"
      />
      km
    </div>
  );
}

function GeoJsonFile({ label, onFile }: { label: string; onFile: (text: string, name: string) => void }) {
  return (
    <label className="cursor-pointer text-leaf-dark underline focus-within:outline-2">
      {label}
      <input
        type="file"
        accept=".geojson,.json,application/geo+json"
        className="sr-only"
        onChange={async (event) => {
          const file = event.target.files?.[0];
          if (file) onFile(await file.text(), file.name.replace(/\.\w+$/, ""));
          event.target.value = "";
        }}
      />
    </label>
  );
}

interface MoreProps {
  areas: Area[];
  onAdd: (areas: Area[]) => void;
  onReplace: (areas: Area[]) => void;
}

function More({ areas, onAdd, onReplace }: MoreProps) {
  const [text, setText] = useState("");
  const [name, setName] = useState("");
  const [sharing, setSharing] = useState(0);
  const read = useReadAreas();
  const keep = useKeepTerritory();
  const regions = useImportRegions();
  const kept = useTerritories().data ?? [];
  const take = (kind: "names" | "geojson", content: string, called: string) =>
    read.mutate(
      { kind, text: content, name: called },
      {
        onSuccess: (found) => {
          if (found.areas.length > 0) onAdd(found.areas);
          setText(found.unknown.join("\n"));
        },
      },
    );
  return (
    <details className="mt-1.5">
      <summary className="cursor-pointer text-leaf-dark">
        Paste towns, import GeoJSON, keep for later{kept.length > 0 && ` (${kept.length} kept)`}
      </summary>
      <label className="mt-1 block">
        Towns or postcodes, one a line
        <textarea
          value={text}
          rows={3}
          onChange={(event) => setText(event.target.value)}
          className="mt-0.5 w-full rounded-[3px] border border-line bg-white px-2 py-1"
        />
      </label>
      {read.data && read.data.unknown.length > 0 && (
        <p className="text-acorn">
          No place is known by {read.data.unknown.length > 1 ? "these lines" : "this line"}; correct it, or
          draw the area.
        </p>
      )}
      <p className="flex items-center gap-2">
        <Button disabled={!text.trim() || read.isPending} onClick={() => take("names", text, "")}>
          Add them
        </Button>
        <GeoJsonFile label="Import GeoJSON" onFile={(content, called) => take("geojson", content, called)} />
        <GeoJsonFile
          label="Save a file’s regions"
          onFile={(content, called) => regions.mutate({ text: content, name: called })}
        />
      </p>
      {regions.data && (
        <p className="text-soft">
          Saved: {regions.data.map((item) => item.name).join(", ")}. Find them in the search above.
        </p>
      )}
      <ErrorNote error={read.error ?? keep.error ?? regions.error} />
      {kept.length > 0 && (
        <ul className="mt-1">
          {kept.map((item) => (
            <li key={item.id}>
              <span className="flex justify-between gap-2">
                <button
                  type="button"
                  className="text-leaf-dark underline"
                  onClick={() => onReplace(item.areas)}
                >
                  {item.name}
                </button>
                <span className="text-soft">
                  {count(item.held)} in store{" "}
                  <Button look="quiet" onClick={() => setSharing(sharing === item.id ? 0 : item.id)}>
                    {item.private ? "Not for everybody" : "For everybody"}
                  </Button>
                </span>
              </span>
              {sharing === item.id && (
                <Sharing kind="territories" id={item.id} onClose={() => setSharing(0)} />
              )}
            </li>
          ))}
        </ul>
      )}
      <p className="mt-1 flex gap-2">
        <input
          value={name}
          aria-label="Name for this territory"
          placeholder="Name"
          onChange={(event) => setName(event.target.value)}
          className="min-w-0 flex-1 rounded-[3px] border border-line bg-white px-2 py-1 placeholder:text-soft"
        />
        <Button
          disabled={!name.trim() || keep.isPending}
          onClick={() => keep.mutate({ name, areas }, { onSuccess: () => setName("") })}
        >
          Keep
        </Button>
      </p>
    </details>
  );
}
