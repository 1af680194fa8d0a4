-- What came of contacting a business about a service: the chance of winning is learnt from it.
CREATE TABLE outcome (
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  service TEXT NOT NULL,
  score REAL NOT NULL,
  contacted_at TEXT NOT NULL,
  stage TEXT NOT NULL CHECK (stage IN ('contacted', 'won', 'lost')),
  amount REAL,
  reason TEXT NOT NULL DEFAULT '',
  PRIMARY KEY (business_id, service)
) STRICT, WITHOUT ROWID;

-- The chance as last learnt; '' holds for services of which nothing came yet.
CREATE TABLE odds (
  service TEXT PRIMARY KEY,
  intercept REAL NOT NULL,
  slope REAL NOT NULL
) STRICT, WITHOUT ROWID;

-- Do values go by what was learnt? Until the user says so they go by the prior.
CREATE TABLE odds_choice (
  one INTEGER PRIMARY KEY CHECK (one = 1),
  learnt INTEGER NOT NULL
) STRICT;
