-- One history of a business: notes and what was done about it. kind: note, move, attempt, talk, mail, page, reply.
ALTER TABLE step ADD COLUMN kind TEXT NOT NULL DEFAULT 'note';
UPDATE step SET kind = 'move' WHERE text LIKE '% → %' OR text LIKE 'now with %' OR text LIKE '%to follow up%' OR text LIKE 'with nobody%';
INSERT INTO step (business_id, at, by, text, kind) SELECT business_id, at, '', text, 'note' FROM memo ORDER BY id;
DROP TABLE memo;
DROP INDEX step_by_business;
CREATE INDEX step_by_business ON step (business_id, at, id);

-- A contact counts also where there was no score to learn from.
CREATE TABLE outcome_now (
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  service TEXT NOT NULL,
  score REAL,
  contacted_at TEXT NOT NULL,
  stage TEXT NOT NULL CHECK (stage IN ('contacted', 'won', 'lost')),
  amount REAL,
  reason TEXT NOT NULL DEFAULT '',
  PRIMARY KEY (business_id, service)
) STRICT, WITHOUT ROWID;
INSERT INTO outcome_now SELECT business_id, service, score, contacted_at, stage, amount, reason FROM outcome;
DROP TABLE outcome;
ALTER TABLE outcome_now RENAME TO outcome;

-- Pages for owners: `draft` is what the agency looks at, `facts` what is shown at the address since it was shared.
CREATE TABLE owner_page (
  id INTEGER PRIMARY KEY,
  token TEXT NOT NULL UNIQUE,
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  sections TEXT NOT NULL,
  draft TEXT NOT NULL,
  made_at TEXT NOT NULL,
  facts TEXT NOT NULL DEFAULT '',
  shared_at TEXT NOT NULL DEFAULT '',
  withdrawn_at TEXT NOT NULL DEFAULT '',
  views INTEGER NOT NULL DEFAULT 0,
  viewed_at TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX owner_page_by_business ON owner_page (business_id, id);

-- What owners wrote back. suspect: why it may be a machine's, "" if it is not.
CREATE TABLE reply (
  id INTEGER PRIMARY KEY,
  page_id INTEGER NOT NULL REFERENCES owner_page(id) ON DELETE CASCADE,
  at TEXT NOT NULL,
  name TEXT NOT NULL,
  reach TEXT NOT NULL,
  text TEXT NOT NULL,
  suspect TEXT NOT NULL DEFAULT '',
  done INTEGER NOT NULL DEFAULT 0
) STRICT;

-- How the agency shows itself to owners.
CREATE TABLE letterhead (
  one INTEGER PRIMARY KEY CHECK (one = 1),
  told TEXT NOT NULL,
  logo BLOB
) STRICT;

-- Mailings that went out: the rows as they were written.
CREATE TABLE mailing (
  id INTEGER PRIMARY KEY,
  at TEXT NOT NULL,
  by TEXT NOT NULL,
  shortlist_id INTEGER REFERENCES shortlist(id) ON DELETE SET NULL,
  sent INTEGER NOT NULL,
  left_out INTEGER NOT NULL,
  rows TEXT NOT NULL
) STRICT;

-- Owners' pages are made in runs: a unit is one page.
CREATE TABLE unit_now (
  id INTEGER PRIMARY KEY,
  run_id INTEGER NOT NULL REFERENCES run(id),
  kind TEXT NOT NULL CHECK (kind IN ('query', 'audit', 'merge', 'page')),
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
