-- A file for people who like SQL. Every table has the business's number; docs/bulk.md describes each column.
CREATE TABLE about (name TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT;
CREATE TABLE business (
  id INTEGER PRIMARY KEY, name TEXT NOT NULL, trade TEXT NOT NULL, category TEXT NOT NULL, street TEXT NOT NULL, town TEXT NOT NULL,
  postcode TEXT NOT NULL, lat REAL, lon REAL, phone TEXT NOT NULL, email TEXT NOT NULL, website TEXT NOT NULL, rating REAL,
  reviews INTEGER, hours TEXT NOT NULL, staff_band TEXT NOT NULL, price_band INTEGER, status TEXT NOT NULL, chain TEXT NOT NULL,
  founded TEXT NOT NULL, revenue_band TEXT NOT NULL, rejected TEXT NOT NULL, first_seen TEXT NOT NULL, audited_at TEXT,
  platform TEXT NOT NULL, offer TEXT NOT NULL, score INTEGER, value REAL, relationship TEXT NOT NULL
) STRICT;
CREATE TABLE listing (business_id INTEGER NOT NULL, source TEXT NOT NULL, source_id TEXT NOT NULL, seen_at TEXT NOT NULL,
  listing TEXT NOT NULL, PRIMARY KEY (source, source_id)) STRICT;
CREATE TABLE finding (business_id INTEGER NOT NULL, "check" TEXT NOT NULL, outcome TEXT NOT NULL, value TEXT NOT NULL, reason TEXT NOT NULL,
  evidence TEXT NOT NULL, PRIMARY KEY (business_id, "check")) STRICT;
CREATE TABLE contact (business_id INTEGER NOT NULL, kind TEXT NOT NULL, value TEXT NOT NULL, how TEXT NOT NULL, url TEXT NOT NULL) STRICT;
CREATE TABLE person (business_id INTEGER NOT NULL, name TEXT NOT NULL, role TEXT NOT NULL, "where" TEXT NOT NULL) STRICT;
CREATE TABLE score (business_id INTEGER NOT NULL, service TEXT NOT NULL, score INTEGER, value REAL,
  PRIMARY KEY (business_id, service)) STRICT;
CREATE TABLE tag (business_id INTEGER NOT NULL, tag TEXT NOT NULL) STRICT;
CREATE TABLE list_member (business_id INTEGER NOT NULL, list TEXT NOT NULL, stage TEXT NOT NULL, owner TEXT NOT NULL, follow_up TEXT NOT NULL,
  added_at TEXT NOT NULL, PRIMARY KEY (list, business_id)) STRICT;
CREATE TABLE history (business_id INTEGER NOT NULL, at TEXT NOT NULL, by TEXT NOT NULL, text TEXT NOT NULL, kind TEXT NOT NULL) STRICT;
CREATE TABLE result (business_id INTEGER NOT NULL, service TEXT NOT NULL, stage TEXT NOT NULL, contacted_at TEXT NOT NULL, score REAL,
  amount REAL, reason TEXT NOT NULL, channel TEXT NOT NULL) STRICT;
CREATE INDEX finding_by_check ON finding ("check", outcome);
CREATE INDEX contact_by_business ON contact (business_id);
CREATE INDEX person_by_business ON person (business_id);
CREATE INDEX history_by_business ON history (business_id, at);

CREATE VIEW in_view AS SELECT * FROM business WHERE rejected = '' AND relationship = '';
CREATE VIEW gap AS
  SELECT business.id, name, trade, town, website, "check", reason FROM finding JOIN business ON business.id = business_id
  WHERE outcome = 'gap' AND rejected = '';
CREATE VIEW due AS
  SELECT business.id, name, phone, list, stage, owner, follow_up FROM list_member JOIN business ON business.id = business_id
  WHERE follow_up != '' ORDER BY follow_up;
CREATE VIEW last_contact AS
  SELECT business_id, max(at) AS at, by, text FROM history WHERE kind IN ('talk', 'mail') GROUP BY business_id;
CREATE VIEW won AS
  SELECT business.id, name, trade, town, service, amount, channel FROM result JOIN business ON business.id = business_id
  WHERE stage = 'won';
