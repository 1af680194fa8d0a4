-- The desk: what scores are made of, so that they can be made again for everybody at once.
ALTER TABLE business ADD COLUMN fit REAL;
ALTER TABLE business ADD COLUMN channels TEXT NOT NULL DEFAULT '[]';
ALTER TABLE business ADD COLUMN platform TEXT NOT NULL DEFAULT '';
ALTER TABLE business ADD COLUMN first_seen TEXT NOT NULL DEFAULT '';
UPDATE business SET first_seen = coalesce((SELECT min(seen_at) FROM listing WHERE business_id = business.id), '');
DROP TABLE opportunity;

-- Services that the agency made or changed; the others are as shipped. A removed one is not offered.
CREATE TABLE service (
  id TEXT PRIMARY KEY,
  body TEXT NOT NULL,
  removed INTEGER NOT NULL DEFAULT 0
) STRICT, WITHOUT ROWID;

-- Every wording of a service's rules that was ever in force.
CREATE TABLE service_version (
  number INTEGER PRIMARY KEY,
  service_id TEXT NOT NULL,
  at TEXT NOT NULL,
  body TEXT NOT NULL,
  note TEXT NOT NULL
) STRICT;
CREATE INDEX service_version_by_service ON service_version (service_id, number);

-- Filters that the agency saved, with what they sell and how to begin.
CREATE TABLE angle (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  service TEXT NOT NULL,
  line TEXT NOT NULL,
  filter TEXT NOT NULL,
  made_at TEXT NOT NULL
) STRICT;

-- The user's verdict on a business: it stands over what rules say.
CREATE TABLE verdict (
  business_id INTEGER PRIMARY KEY REFERENCES business(id) ON DELETE CASCADE,
  verdict TEXT NOT NULL CHECK (verdict IN ('rejected', 'kept')),
  reason TEXT NOT NULL,
  ruled TEXT NOT NULL DEFAULT '',
  at TEXT NOT NULL
) STRICT;

CREATE TABLE tag (
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  tag TEXT NOT NULL,
  PRIMARY KEY (business_id, tag)
) STRICT, WITHOUT ROWID;

CREATE TABLE memo (
  id INTEGER PRIMARY KEY,
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  at TEXT NOT NULL,
  text TEXT NOT NULL
) STRICT;
CREATE INDEX memo_by_business ON memo (business_id, id);

-- What was done at the desk, with what it takes to undo it.
CREATE TABLE deed (
  id INTEGER PRIMARY KEY,
  at TEXT NOT NULL,
  text TEXT NOT NULL,
  undo TEXT NOT NULL,
  undone INTEGER NOT NULL DEFAULT 0
) STRICT;

-- Columns and format of an export, kept by name; where it is delivered unattended, and the token that guards its link.
CREATE TABLE preset (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  body TEXT NOT NULL,
  made_at TEXT NOT NULL
) STRICT;

-- Who was exported when, and to what.
CREATE TABLE exported (
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  at TEXT NOT NULL,
  target TEXT NOT NULL,
  PRIMARY KEY (business_id, at, target)
) STRICT, WITHOUT ROWID;

-- What a business's pages say, for searching words.
CREATE VIRTUAL TABLE page_text USING fts5 (text, tokenize = 'unicode61 remove_diacritics 2');
