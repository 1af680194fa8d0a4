-- What the company register adds: the entry joined to a business, and what it says that rules and scores ask for.
ALTER TABLE business ADD COLUMN founded TEXT NOT NULL DEFAULT '';
ALTER TABLE business ADD COLUMN revenue_band TEXT NOT NULL DEFAULT '';
ALTER TABLE business ADD COLUMN parent TEXT NOT NULL DEFAULT '';
ALTER TABLE business ADD COLUMN company_id INTEGER REFERENCES listing(id);
ALTER TABLE business ADD COLUMN company_sure REAL;
CREATE INDEX business_by_parent ON business (parent) WHERE parent != '';
CREATE INDEX listing_by_source ON listing (source) WHERE business_id IS NULL;

-- What a site calls its owner: stands in where a listing gave no name.
ALTER TABLE audit ADD COLUMN site_name TEXT NOT NULL DEFAULT '';

-- What asking has cost, in the agency's currency.
ALTER TABLE run ADD COLUMN cost REAL NOT NULL DEFAULT 0;

-- Trades that the user added to the shipped ones.
CREATE TABLE own_trade (
  id TEXT PRIMARY KEY,
  label TEXT NOT NULL,
  plural TEXT NOT NULL,
  words TEXT NOT NULL,
  parent TEXT NOT NULL DEFAULT '',
  made_at TEXT NOT NULL
) STRICT, WITHOUT ROWID;

-- Regions with their boundary (a list of polygons, each a list of rings), to be swept whole.
CREATE TABLE region (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  within TEXT NOT NULL,
  lat REAL NOT NULL,
  lon REAL NOT NULL,
  parts TEXT NOT NULL,
  UNIQUE (name, within)
) STRICT;

-- Log-ins and keys, sealed; the key that opens them lies in a file beside the database.
CREATE TABLE secret (
  name TEXT PRIMARY KEY,
  sealed BLOB NOT NULL,
  at TEXT NOT NULL
) STRICT, WITHOUT ROWID;
