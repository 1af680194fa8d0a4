const NAMES: Record<string, string> = {
  source_id: "its own id",
  lat: "latitude",
  lon: "longitude",
  price_band: "price level",
  staff_band: "staff",
  closed: "closed for good",
  page: "social page",
  last_post: "last post",
  ads_running: "ads running",
  messages: "takes messages",
  trading_as: "trading name",
  parent: "parent company",
  parent_number: "number of the parent",
  revenue_band: "revenue",
  profile: "profile link",
};

/** What a field of a listing is called on a screen. */
export const fieldName = (field: string): string => NAMES[field] ?? field;
