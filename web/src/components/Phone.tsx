import type { CountryCode } from "libphonenumber-js/min";
import { useSyncExternalStore } from "react";
import { ownCountry } from "../lib/format";

type Library = typeof import("libphonenumber-js/min");

/** The tables of all countries' numbers are larger than the rest of the first screen: they come when a number is first shown. */
let library: Library | null = null;
let asked = false;
const waiting = new Set<() => void>();

function subscribe(changed: () => void) {
  waiting.add(changed);
  if (!asked) {
    asked = true;
    void import("libphonenumber-js/min").then((module) => {
      library = module;
      for (const tell of waiting) tell();
    });
  }
  return () => {
    waiting.delete(changed);
  };
}

function dialled(e164: string, tables: Library): string {
  const number = tables.parsePhoneNumberFromString(e164);
  if (!number) return e164;
  const country = ownCountry();
  const known = tables.isSupportedCountry(country);
  const home = known && number.countryCallingCode === tables.getCountryCallingCode(country as CountryCode);
  return home ? number.formatNational() : number.formatInternational();
}

/** A number as the agency dials it: its own country's without the country's code. */
export function Phone({ number }: { number: string }) {
  const tables = useSyncExternalStore(subscribe, () => library);
  return <>{tables ? dialled(number, tables) : number}</>;
}
