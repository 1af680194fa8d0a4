import { useState } from "react";
import type { Place } from "../../../api/client";
import { Button } from "../../../components/Button";
import { ErrorNote } from "../../../components/ErrorNote";
import { countryNames } from "../../../lib/format";
import { useSaveHome } from "../../../queries/agency";
import { useCountries, useStatus } from "../../../queries/catalogue";
import PlaceSearch from "../../gather/PlaceSearch";
import type { StepProps } from "../SetUp";

/** Country and home town, and what follows from them. */
export default function HomeStep({ onNext }: StepProps) {
  const status = useStatus().data;
  const countries = useCountries(true).data ?? [];
  const save = useSaveHome();
  const [country, setCountry] = useState(status?.country ?? "");
  const [town, setTown] = useState<Place | null>(null);
  const done = save.data;
  const named = countryNames(countries);
  const nameOf = named.find(([code]) => code === country)?.[1];
  return (
    <form
      className="mt-3 grid max-w-xl grid-cols-[110px_1fr] items-center gap-x-3 gap-y-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (done) onNext();
        else save.mutate({ country, lat: town?.lat, lon: town?.lon });
      }}
    >
      <label htmlFor="country">Country</label>
      <select
        id="country"
        value={country}
        onChange={(event) => {
          save.reset();
          setCountry(event.target.value);
        }}
        className="box"
      >
        <option value="">choose your country</option>
        {named.map(([code, name]) => (
          <option key={code} value={code}>
            {name}
          </option>
        ))}
      </select>
      <span>Home town</span>
      <PlaceSearch
        country={nameOf}
        onPlace={(place) => {
          save.reset();
          setTown(place);
          const there = named.find(([, name]) => name === place.within);
          if (!country && there) setCountry(there[0]);
        }}
      />
      {done && (
        <output className="col-span-2 border border-line bg-sheet px-3 py-2">
          Money is shown in {done.currency}, distances in {done.units === "mi" ? "miles" : "kilometres"}
          {done.time_zone && `, and the clock is that of ${done.time_zone.replaceAll("_", " ")}`}.
        </output>
      )}
      <span />
      <span className="flex items-center gap-3">
        <Button type="submit" look="main" disabled={!country || save.isPending}>
          {done ? "Continue" : save.isPending ? "Saving …" : "Save"}
        </Button>
        {town && (
          <span className="text-soft">
            {town.name}, {town.lat.toFixed(3)}°, {town.lon.toFixed(3)}°
          </span>
        )}
      </span>
      <span className="col-span-2">
        <ErrorNote error={save.error} />
      </span>
    </form>
  );
}
