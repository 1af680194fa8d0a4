const NAMES: Record<string, string> = {
  source_id: "its own id",
  lat: "latitude",
  lon: "longitude",
  price_band: "price level",
  staff_band: "staff",
  closed: "closed for good",
};

/** What a field of a listing is called on a screen. */
export const fieldName = (field: string): string => NAMES[field] ?? field;
