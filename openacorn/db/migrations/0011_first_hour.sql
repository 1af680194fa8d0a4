-- Up to when a schedule's times are accounted for: a later one that has passed was missed, and is made up for.
ALTER TABLE schedule ADD COLUMN done_to TEXT NOT NULL DEFAULT '';

-- How the text of an imported file is encoded, '' for a workbook.
ALTER TABLE import ADD COLUMN encoding TEXT NOT NULL DEFAULT '';

-- The last delivery of a kept export to each of its targets; one that failed waits and is tried again.
CREATE TABLE delivery (
  preset_id INTEGER NOT NULL REFERENCES preset(id) ON DELETE CASCADE,
  target TEXT NOT NULL CHECK (target IN ('folder', 'webhook')),
  tried_at TEXT NOT NULL,
  attempts INTEGER NOT NULL,
  rows INTEGER NOT NULL,
  error TEXT NOT NULL,
  next_at TEXT,
  PRIMARY KEY (preset_id, target)
) STRICT, WITHOUT ROWID;
