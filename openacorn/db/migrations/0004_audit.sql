-- A site that no listing gives, and the evidence that lies around a site: where one was looked for, names as domains.
ALTER TABLE audit ADD COLUMN found TEXT NOT NULL DEFAULT '';
ALTER TABLE audit ADD COLUMN around TEXT NOT NULL DEFAULT '{}';

-- Audits that a later one replaced: their findings, compressed JSON (check id -> finding).
CREATE TABLE past_audit (
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  at TEXT NOT NULL,
  website TEXT NOT NULL,
  findings BLOB NOT NULL,
  PRIMARY KEY (business_id, at)
) STRICT, WITHOUT ROWID;

-- What changed from one audit to the next.
CREATE TABLE audit_event (
  id INTEGER PRIMARY KEY,
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  at TEXT NOT NULL,
  check_id TEXT NOT NULL,
  before TEXT NOT NULL,
  after TEXT NOT NULL,
  text TEXT NOT NULL
) STRICT;
CREATE INDEX audit_event_by_business ON audit_event (business_id, id);

-- How a site looks (WebP).
CREATE TABLE screenshot (
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  kind TEXT NOT NULL CHECK (kind IN ('phone', 'desk')),
  at TEXT NOT NULL,
  body BLOB NOT NULL,
  PRIMARY KEY (business_id, kind)
) STRICT, WITHOUT ROWID;

-- What is known of e-mail addresses, whoever they belong to.
CREATE TABLE verification (
  address TEXT PRIMARY KEY,
  result TEXT NOT NULL CHECK (result IN ('valid', 'risky', 'dead', 'unknown')),
  stage TEXT NOT NULL,
  detail TEXT NOT NULL,
  at TEXT NOT NULL
) STRICT, WITHOUT ROWID;
