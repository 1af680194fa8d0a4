-- Who works a business of a shortlist and when to come back to it; what was done about a business, by whom.
ALTER TABLE member ADD COLUMN owner TEXT NOT NULL DEFAULT '';
ALTER TABLE member ADD COLUMN follow_up TEXT NOT NULL DEFAULT '';

CREATE TABLE step (
  id INTEGER PRIMARY KEY,
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  at TEXT NOT NULL,
  by TEXT NOT NULL,
  text TEXT NOT NULL
) STRICT;
CREATE INDEX step_by_business ON step (business_id, id);
