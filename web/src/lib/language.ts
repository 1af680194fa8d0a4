/** The language that sources are asked in where none is chosen: the agency's own; "" for English, in which trades are named anyway. */
export const homeLanguage = (locale: string | undefined): string =>
  locale && !locale.startsWith("en") ? locale : "";
