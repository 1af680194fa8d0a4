CREATE TABLE sweep (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  plan TEXT NOT NULL,
  created_at TEXT NOT NULL
) STRICT;

CREATE TABLE run (
  id INTEGER PRIMARY KEY,
  sweep_id INTEGER NOT NULL REFERENCES sweep(id),
  state TEXT NOT NULL CHECK (state IN ('running', 'stopped', 'done', 'failed')),
  why TEXT NOT NULL DEFAULT '',
  remedy TEXT NOT NULL DEFAULT '',
  started_at TEXT NOT NULL,
  ended_at TEXT,
  requests INTEGER NOT NULL DEFAULT 0,
  retries INTEGER NOT NULL DEFAULT 0
) STRICT;

-- Units of work. A restart turns 'doing' back into 'ready': what was in flight is all that is lost.
CREATE TABLE unit (
  id INTEGER PRIMARY KEY,
  run_id INTEGER NOT NULL REFERENCES run(id),
  kind TEXT NOT NULL CHECK (kind IN ('query', 'audit')),
  key TEXT NOT NULL,
  state TEXT NOT NULL DEFAULT 'ready' CHECK (state IN ('ready', 'doing', 'done', 'failed', 'skipped')),
  attempts INTEGER NOT NULL DEFAULT 0,
  payload TEXT NOT NULL,
  rows INTEGER,
  full INTEGER NOT NULL DEFAULT 0,
  error TEXT NOT NULL DEFAULT '',
  remedy TEXT NOT NULL DEFAULT '',
  UNIQUE (run_id, kind, key)
) STRICT;
CREATE INDEX unit_by_state ON unit (run_id, kind, state, id);

-- What a user should know of a run: failures with their remedy, areas cut short, why it ended.
CREATE TABLE note (
  id INTEGER PRIMARY KEY,
  run_id INTEGER NOT NULL REFERENCES run(id),
  at TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('info', 'cut short', 'failed')),
  text TEXT NOT NULL,
  remedy TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX note_by_run ON note (run_id, id);

CREATE TABLE business (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  trade TEXT NOT NULL,
  category TEXT NOT NULL DEFAULT '',
  street TEXT NOT NULL DEFAULT '',
  town TEXT NOT NULL DEFAULT '',
  postcode TEXT NOT NULL DEFAULT '',
  lat REAL,
  lon REAL,
  distance_m REAL,
  phone TEXT NOT NULL DEFAULT '',
  website TEXT NOT NULL DEFAULT '',
  rating REAL,
  reviews INTEGER,
  claimed INTEGER,
  photos INTEGER,
  staff_band TEXT NOT NULL DEFAULT '',
  price_band INTEGER,
  hours TEXT NOT NULL DEFAULT '',
  status TEXT NOT NULL DEFAULT 'unknown',
  rejected TEXT NOT NULL DEFAULT '',
  audited_at TEXT,
  outcomes TEXT NOT NULL DEFAULT '{}',
  offer TEXT NOT NULL DEFAULT '',
  score INTEGER,
  value REAL,
  reach REAL,
  changed INTEGER NOT NULL
) STRICT;
CREATE INDEX business_by_change ON business (changed);
CREATE INDEX business_by_trade ON business (trade);

-- Businesses that were merged away, so that copies in memory can follow.
CREATE TABLE business_gone (
  id INTEGER PRIMARY KEY,
  changed INTEGER NOT NULL
) STRICT;

CREATE TABLE change_counter (
  only INTEGER PRIMARY KEY CHECK (only = 1),
  number INTEGER NOT NULL
) STRICT;
INSERT INTO change_counter VALUES (1, 0);

CREATE TABLE listing (
  id INTEGER PRIMARY KEY,
  source TEXT NOT NULL,
  source_id TEXT NOT NULL,
  trade TEXT NOT NULL,
  body TEXT NOT NULL,
  seen_at TEXT NOT NULL,
  business_id INTEGER REFERENCES business(id),
  UNIQUE (source, source_id)
) STRICT;
CREATE INDEX listing_by_business ON listing (business_id);

CREATE TABLE listing_key (
  key TEXT NOT NULL,
  listing_id INTEGER NOT NULL REFERENCES listing(id),
  PRIMARY KEY (key, listing_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX listing_key_by_listing ON listing_key (listing_id);

CREATE TABLE seen (
  run_id INTEGER NOT NULL REFERENCES run(id),
  listing_id INTEGER NOT NULL REFERENCES listing(id),
  PRIMARY KEY (run_id, listing_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX seen_by_listing ON seen (listing_id);

-- Where each field of a business came from.
CREATE TABLE fact (
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  field TEXT NOT NULL,
  value TEXT NOT NULL,
  listing_id INTEGER NOT NULL REFERENCES listing(id),
  others TEXT NOT NULL DEFAULT '[]',
  PRIMARY KEY (business_id, field)
) STRICT, WITHOUT ROWID;

-- The evidence as gathered, compressed: checks can run again from here with no network.
CREATE TABLE audit (
  business_id INTEGER PRIMARY KEY REFERENCES business(id) ON DELETE CASCADE,
  website TEXT NOT NULL,
  at TEXT NOT NULL,
  seconds REAL NOT NULL,
  crawl BLOB
) STRICT;

CREATE TABLE raw_page (
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  url TEXT NOT NULL,
  at TEXT NOT NULL,
  content_type TEXT NOT NULL,
  body BLOB NOT NULL,
  PRIMARY KEY (business_id, url)
) STRICT;

CREATE TABLE finding (
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  check_id TEXT NOT NULL,
  outcome TEXT NOT NULL,
  value TEXT NOT NULL,
  evidence TEXT NOT NULL,
  reason TEXT NOT NULL,
  crashed INTEGER NOT NULL,
  PRIMARY KEY (business_id, check_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE contact (
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  kind TEXT NOT NULL CHECK (kind IN ('email', 'phone', 'social')),
  value TEXT NOT NULL,
  how TEXT NOT NULL,
  url TEXT NOT NULL,
  snippet TEXT NOT NULL,
  PRIMARY KEY (business_id, kind, value)
) STRICT, WITHOUT ROWID;

CREATE TABLE opportunity (
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  service_id TEXT NOT NULL,
  body TEXT NOT NULL,
  PRIMARY KEY (business_id, service_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE shortlist (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  created_at TEXT NOT NULL
) STRICT;

CREATE TABLE member (
  shortlist_id INTEGER NOT NULL REFERENCES shortlist(id) ON DELETE CASCADE,
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  stage TEXT NOT NULL DEFAULT 'picked',
  added_at TEXT NOT NULL,
  PRIMARY KEY (shortlist_id, business_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX member_by_business ON member (business_id);

CREATE TABLE place (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  within TEXT NOT NULL,
  kind TEXT NOT NULL,
  lat REAL NOT NULL,
  lon REAL NOT NULL,
  residents INTEGER NOT NULL,
  radius_km REAL NOT NULL
) STRICT;
