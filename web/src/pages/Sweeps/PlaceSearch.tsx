import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useState } from "react";
import type { Place } from "../../api/client";
import { count } from "../../lib/format";
import { usePlaces } from "../../queries/catalogue";

export default function PlaceSearch({ onChoose }: { onChoose: (place: Place) => void }) {
  const [text, setText] = useState("");
  const places = usePlaces(text.trim());
  const choose = (place: Place | null) => {
    if (!place) return;
    setText(place.name);
    onChoose(place);
  };
  return (
    <Combobox<Place | null> immediate value={null} onChange={choose}>
      <ComboboxInput
        aria-label="Search a place"
        placeholder="Search a town or district"
        displayValue={(place: Place | null) => place?.name ?? text}
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
        {places.data?.length === 0 && (
          <p className="px-2 py-1 text-soft">
            No place of that name is known here; click on the map instead.
          </p>
        )}
      </ComboboxOptions>
    </Combobox>
  );
}
