import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useState } from "react";
import type { Place, Schemas } from "../../api/client";
import { count } from "../../lib/format";
import { usePlaces, useRegions } from "../../queries/catalogue";

type Region = Schemas["Region"];

interface Props {
  /** Name of the country whose places come first. */
  country?: string;
  onPlace: (place: Place) => void;
  /** Regions are offered only where one can be taken. */
  onRegion?: (region: Region) => void;
}

/** A town to sweep around, or a region to sweep whole. */
export default function PlaceSearch({ country, onPlace, onRegion }: Props) {
  const [text, setText] = useState("");
  const places = usePlaces(text.trim(), country);
  const regions = useRegions(text.trim());
  const choose = (found: Place | Region | null) => {
    if (!found) return;
    setText(found.name);
    if ("kind" in found) onPlace(found);
    else onRegion?.(found);
  };
  return (
    <Combobox<Place | Region | null> immediate value={null} onChange={choose}>
      <ComboboxInput
        aria-label="Search a place"
        placeholder={onRegion ? "Search a town, district or region" : "Search a town"}
        displayValue={(found: Place | Region | null) => found?.name ?? text}
        onChange={(event) => setText(event.target.value)}
        className="w-full rounded-[3px] border border-line bg-white px-2 py-1 placeholder:text-soft"
      />
      <ComboboxOptions
        anchor="bottom start"
        className="z-[1200] mt-1 max-h-64 w-[348px] overflow-y-auto border border-line bg-sheet p-1 shadow-lg empty:invisible"
      >
        {places.data?.map((place) => (
          <ComboboxOption
            key={`${place.within}/${place.name}`}
            value={place}
            className="flex justify-between gap-2 rounded-[3px] px-2 py-1 data-focus:bg-leaf-soft"
          >
            <span>
              {place.name} <span className="text-soft">{place.within}</span>
            </span>
            <span className="text-soft">{place.residents ? count(place.residents) : place.kind}</span>
          </ComboboxOption>
        ))}
        {onRegion &&
          regions.data?.map((region) => (
            <ComboboxOption
              key={region.id}
              value={region}
              className="flex justify-between gap-2 rounded-[3px] px-2 py-1 data-focus:bg-leaf-soft"
            >
              <span>
                {region.name} <span className="text-soft">{region.within}</span>
              </span>
              <span className="text-soft">region, its boundary</span>
            </ComboboxOption>
          ))}
        {places.data?.length === 0 && !regions.data?.length && (
          <p className="px-2 py-1 text-soft">
            No place of that name is known here; click on the map instead.
          </p>
        )}
      </ComboboxOptions>
    </Combobox>
  );
}
