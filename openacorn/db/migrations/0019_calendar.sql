-- Appointments with businesses. at: when it begins (ISO 8601, UTC); remind_minutes: before it, 0 for no reminder.
CREATE TABLE appointment (
  id INTEGER PRIMARY KEY,
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  at TEXT NOT NULL,
  minutes INTEGER NOT NULL DEFAULT 30,
  place TEXT NOT NULL DEFAULT '',
  note TEXT NOT NULL DEFAULT '',
  remind_minutes INTEGER NOT NULL DEFAULT 15,
  by TEXT NOT NULL DEFAULT '',
  made_at TEXT NOT NULL
) STRICT;
CREATE INDEX appointment_by_business ON appointment (business_id);

-- An address at which a calendar program reads follow-ups and appointments; by: only those of one person, '' for everybody's.
CREATE TABLE calendar_feed (
  token TEXT PRIMARY KEY,
  by TEXT NOT NULL UNIQUE,
  made_at TEXT NOT NULL
) STRICT, WITHOUT ROWID;
