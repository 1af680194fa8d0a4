import { useState } from "react";
import type { Area, Place } from "../../api/client";
import { Button, ErrorNote } from "../../components/Bits";
import { circle, isCircle, keyOf, MAX_KM, scaled, sizeOf } from "../../lib/areas";
import { count } from "../../lib/format";
import { useKeepTerritory, useReadAreas, useTerritories } from "../../queries/gathering";
import PlaceSearch from "./PlaceSearch";

interface Props {
  areas: Area[];
  chosen: number;
  drawing: boolean;
  onAreas: (areas: Area[], chosen: number) => void;
  onDraw: () => void;
}

/** The parts of a territory: search a place, draw, paste towns, import GeoJSON, or take a kept one. */
export default function Areas({ areas, chosen, drawing, onAreas, onDraw }: Props) {
  const area = areas[chosen];
  const add = (more: Area[]) => {
    // the circle that nobody has named yet is a placeholder
    const kept = areas.filter((item) => item.name || !isCircle(item));
    onAreas([...kept, ...more], kept.length + more.length - 1);
  };
  const choosePlace = (place: Place) => add([circle(place.name, place.lat, place.lon, place.radius_km)]);
  return (
    <>
      <PlaceSearch onChoose={choosePlace} />
      <ul className="mt-1.5" aria-label="Areas of the sweep">
        {areas.map((item, index) => (
          <li
            key={keyOf(item)}
            className={`flex items-baseline gap-2 border-l-[3px] py-0.5 pl-2 ${index === chosen ? "border-leaf bg-leaf-soft/50" : "border-transparent"}`}
          >
            <button
              type="button"
              className="min-w-0 flex-1 truncate text-left"
              onClick={() => onAreas(areas, index)}
            >
              {item.name || "Circle"} <span className="text-soft">{sizeOf(item)}</span>
            </button>
            {areas.length > 1 && (
              <button
                type="button"
                aria-label={`Take away ${item.name || "circle"}`}
                className="px-1 text-soft hover:text-alarm"
                onClick={() =>
                  onAreas(
                    areas.filter((_, other) => other !== index),
                    0,
                  )
                }
              >
                ×
              </button>
            )}
          </li>
        ))}
      </ul>
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

interface MoreProps {
  areas: Area[];
  onAdd: (areas: Area[]) => void;
  onReplace: (areas: Area[]) => void;
}

function More({ areas, onAdd, onReplace }: MoreProps) {
  const [text, setText] = useState("");
  const [name, setName] = useState("");
  const read = useReadAreas();
  const keep = useKeepTerritory();
  const kept = useTerritories().data ?? [];
  const take = (kind: "names" | "geojson", said: string, called: string) =>
    read.mutate(
      { kind, text: said, name: called },
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
        <label className="cursor-pointer text-leaf-dark underline">
          Import GeoJSON
          <input
            type="file"
            accept=".geojson,.json,application/geo+json"
            className="sr-only"
            onChange={async (event) => {
              const file = event.target.files?.[0];
              if (file) take("geojson", await file.text(), file.name.replace(/\.\w+$/, ""));
              event.target.value = "";
            }}
          />
        </label>
      </p>
      <ErrorNote error={read.error ?? keep.error} />
      {kept.length > 0 && (
        <ul className="mt-1">
          {kept.map((item) => (
            <li key={item.id} className="flex justify-between gap-2">
              <button
                type="button"
                className="text-leaf-dark underline"
                onClick={() => onReplace(item.areas)}
              >
                {item.name}
              </button>
              <span className="text-soft">{count(item.held)} held there</span>
            </li>
          ))}
        </ul>
      )}
      <p className="mt-1 flex gap-2">
        <input
          value={name}
          aria-label="Name to keep this territory under"
          placeholder="Name to keep it under"
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
