-- Units of several sources side by side: `lane` is the source a question goes to.
CREATE TABLE unit_new (
  id INTEGER PRIMARY KEY,
  run_id INTEGER NOT NULL REFERENCES run(id),
  kind TEXT NOT NULL CHECK (kind IN ('query', 'audit', 'merge')),
  lane TEXT NOT NULL DEFAULT '',
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
INSERT INTO unit_new (id, run_id, kind, lane, key, state, attempts, payload, rows, full, error, remedy)
SELECT id, run_id, kind, CASE kind WHEN 'query' THEN 'listing_service' ELSE '' END,
       CASE kind WHEN 'query' THEN 'listing_service/' || key ELSE key END, state, attempts,
       CASE kind WHEN 'query' THEN json_set(payload, '$.source', 'listing_service') ELSE payload END, rows, full, error, remedy FROM unit;
DROP TABLE unit;
ALTER TABLE unit_new RENAME TO unit;
CREATE INDEX unit_by_state ON unit (run_id, kind, lane, state, id);

-- Pairs of listings that may be one business: to be asked about.
CREATE TABLE doubt (
  a INTEGER NOT NULL REFERENCES listing(id) ON DELETE CASCADE,
  b INTEGER NOT NULL REFERENCES listing(id) ON DELETE CASCADE,
  probability REAL NOT NULL,
  PRIMARY KEY (a, b)
) STRICT, WITHOUT ROWID;
CREATE INDEX doubt_by_b ON doubt (b);

-- What the user said of pairs of listings: it holds on every later run.
CREATE TABLE decision (
  a INTEGER NOT NULL REFERENCES listing(id) ON DELETE CASCADE,
  b INTEGER NOT NULL REFERENCES listing(id) ON DELETE CASCADE,
  verdict TEXT NOT NULL CHECK (verdict IN ('one', 'two')),
  at TEXT NOT NULL,
  PRIMARY KEY (a, b)
) STRICT, WITHOUT ROWID;
CREATE INDEX decision_by_b ON decision (b);

-- A user's own word on a field wins over every source.
CREATE TABLE correction (
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  field TEXT NOT NULL,
  value TEXT NOT NULL,
  at TEXT NOT NULL,
  PRIMARY KEY (business_id, field)
) STRICT, WITHOUT ROWID;

-- How to read a paginated directory.
CREATE TABLE reading_plan (
  id INTEGER PRIMARY KEY,
  title TEXT NOT NULL UNIQUE,
  body TEXT NOT NULL,
  made_at TEXT NOT NULL
) STRICT;

-- Who is what to us, by what they are known by (a normalised domain, e-mail, phone, or name with a place).
CREATE TABLE standing (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('client', 'in conversation', 'refused')),
  known_by TEXT NOT NULL CHECK (known_by IN ('domain', 'email', 'phone', 'name')),
  value TEXT NOT NULL,
  shown TEXT NOT NULL,
  at TEXT NOT NULL,
  UNIQUE (known_by, value)
) STRICT;

-- What a run found changed in a listing.
CREATE TABLE listing_change (
  run_id INTEGER NOT NULL REFERENCES run(id),
  listing_id INTEGER NOT NULL REFERENCES listing(id) ON DELETE CASCADE,
  field TEXT NOT NULL,
  before TEXT NOT NULL,
  after TEXT NOT NULL,
  PRIMARY KEY (run_id, listing_id, field)
) STRICT, WITHOUT ROWID;

ALTER TABLE business ADD COLUMN email TEXT NOT NULL DEFAULT '';
ALTER TABLE business ADD COLUMN standing TEXT NOT NULL DEFAULT '';
ALTER TABLE business ADD COLUMN chain TEXT NOT NULL DEFAULT '';
ALTER TABLE business ADD COLUMN sources TEXT NOT NULL DEFAULT '[]';
CREATE INDEX business_by_chain ON business (chain) WHERE chain != '';

-- Territories kept for later sweeps.
CREATE TABLE territory (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  areas TEXT NOT NULL,
  made_at TEXT NOT NULL
) STRICT;

-- Files, pasted texts and address lists that were brought in: source "file:<id>".
CREATE TABLE import (
  id INTEGER PRIMARY KEY,
  title TEXT NOT NULL,
  file TEXT NOT NULL,
  columns TEXT NOT NULL DEFAULT '{}',
  trade TEXT NOT NULL DEFAULT '',
  taken INTEGER NOT NULL DEFAULT 0,
  refused INTEGER NOT NULL DEFAULT 0,
  at TEXT NOT NULL
) STRICT;

CREATE TABLE import_refused (
  import_id INTEGER NOT NULL REFERENCES import(id) ON DELETE CASCADE,
  line INTEGER NOT NULL,
  reason TEXT NOT NULL,
  PRIMARY KEY (import_id, line)
) STRICT, WITHOUT ROWID;

-- Columns as the user had them for a file with these headings.
CREATE TABLE column_memory (
  headings TEXT PRIMARY KEY,
  columns TEXT NOT NULL
) STRICT;
CREATE INDEX place_by_lat ON place (lat);
CREATE INDEX place_by_name ON place (name COLLATE NOCASE);

-- When a sweep runs by itself, and whom it tells.
CREATE TABLE schedule (
  sweep_id INTEGER PRIMARY KEY REFERENCES sweep(id) ON DELETE CASCADE,
  every TEXT NOT NULL CHECK (every IN ('once', 'daily', 'weekly', 'monthly')),
  at TEXT NOT NULL,
  webhook TEXT NOT NULL DEFAULT '',
  email TEXT NOT NULL DEFAULT ''
) STRICT;

-- What the user is told in the application.
CREATE TABLE notice (
  id INTEGER PRIMARY KEY,
  at TEXT NOT NULL,
  text TEXT NOT NULL,
  run_id INTEGER REFERENCES run(id),
  trouble INTEGER NOT NULL DEFAULT 0,
  seen INTEGER NOT NULL DEFAULT 0
) STRICT;
