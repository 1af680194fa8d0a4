-- A sweep opens the sites of its best offers in a browser: a unit is one look.
CREATE TABLE unit_now (
  id INTEGER PRIMARY KEY,
  run_id INTEGER NOT NULL REFERENCES run(id),
  kind TEXT NOT NULL CHECK (kind IN ('query', 'audit', 'merge', 'page', 'look')),
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
INSERT INTO unit_now SELECT id, run_id, kind, lane, key, state, attempts, payload, rows, full, error, remedy FROM unit;
DROP TABLE unit;
ALTER TABLE unit_now RENAME TO unit;
CREATE INDEX unit_by_state ON unit (run_id, kind, lane, state, id);

-- The pictures that owners' pages show, as they were when the page was made (WebP); `hash` stands in the page's facts.
CREATE TABLE owner_picture (
  page_id INTEGER NOT NULL REFERENCES owner_page(id) ON DELETE CASCADE,
  hash TEXT NOT NULL,
  body BLOB NOT NULL,
  PRIMARY KEY (page_id, hash)
) STRICT, WITHOUT ROWID;
