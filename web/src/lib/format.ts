/** How the agency's country writes things: set as soon as the application has said which it is. */
const here = { locale: "en", country: "", whole: new Intl.NumberFormat("en") };

export function setHere(locale: string, country: string) {
  if (locale === here.locale && country === here.country) return;
  here.locale = locale;
  here.country = country;
  here.whole = new Intl.NumberFormat(locale);
}

/** ISO 3166 code of the agency's country, "" if it is not set. */
export const ownCountry = (): string => here.country;

export const count = (value: number): string => here.whole.format(value);

/** A sum; to the cent where it is on paper, else in whole units. */
export function money(value: number | null | undefined, currency: string, cents = false): string {
  if (value === null || value === undefined) return "–";
  if (!currency) return count(Math.round(value));
  return new Intl.NumberFormat(here.locale, {
    style: "currency",
    currency,
    currencyDisplay: "narrowSymbol",
    minimumFractionDigits: cents ? 2 : 0,
    maximumFractionDigits: cents ? 2 : 0,
  }).format(value);
}

export function distance(metres: number | null | undefined): string {
  if (metres === null || metres === undefined) return "–";
  if (metres < 950) return `${Math.round(metres / 50) * 50} m`;
  return metres < 9950 ? `${(metres / 1000).toFixed(1)} km` : `${Math.round(metres / 1000)} km`;
}

export function duration(seconds: number): string {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s`;
  return seconds < 5400 ? `${Math.round(seconds / 60)} min` : `${(seconds / 3600).toFixed(1)} h`;
}

export function when(iso: string | null | undefined): string {
  if (!iso) return "–";
  return new Date(iso).toLocaleString(here.locale, {
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
  });
}

/** A bare day is one, wherever it is read: as a moment it would be midnight in Greenwich. */
export const day = (iso: string): string =>
  new Date(iso.length === 10 ? `${iso}T12:00` : iso).toLocaleDateString(here.locale, {
    day: "numeric",
    month: "short",
    year: "numeric",
  });

/** A note with its days as a person writes them: they are kept as 2026-12-01. */
export const dated = (text: string): string =>
  text.replace(/\b\d{4}-\d{2}-\d{2}\b/g, (found) => (Number.isNaN(Date.parse(found)) ? found : day(found)));

/** The hour of a moment. */
export const hour = (iso: string): string =>
  new Date(iso).toLocaleTimeString(here.locale, { hour: "2-digit", minute: "2-digit" });

/** How long ago, in as few characters as a table allows. */
export function ago(iso: string, now = Date.now()): string {
  const days = Math.floor((now - Date.parse(iso)) / 86_400_000);
  if (days < 1) return "today";
  return days < 60 ? `${days} d ago` : `${Math.round(days / 30)} mo ago`;
}

const NAMES = new Intl.DisplayNames(["en"], { type: "region" });

/** Codes of countries with their names, in the order of the names. */
export const countryNames = (codes: string[]): [string, string][] =>
  codes
    .map((code): [string, string] => [code, NAMES.of(code) ?? code])
    .sort((a, b) => a[1].localeCompare(b[1]));

export const host = (url: string): string => url.replace(/^https?:\/\//, "").replace(/\/$/, "");

/** A day here, so many days from now, as a date field has it: the user's day, not Greenwich's. */
export function dayFromNow(days = 0, now = new Date()): string {
  const there = new Date(now.getFullYear(), now.getMonth(), now.getDate() + days);
  const two = (number: number): string => String(number).padStart(2, "0");
  return `${there.getFullYear()}-${two(there.getMonth() + 1)}-${two(there.getDate())}`;
}

export function sentence(text: string): string {
  const begun = text.charAt(0).toUpperCase() + text.slice(1);
  return /[.!?]$/.test(begun) ? begun : `${begun}.`;
}
