-- New websites, begun for businesses. draft: as it stands; shared: as it was last shared, '' before that; hue: of the old site's
-- picture (0…1); token: of its address.
CREATE TABLE starter_site (
  id INTEGER PRIMARY KEY,
  business_id INTEGER NOT NULL UNIQUE REFERENCES business(id) ON DELETE CASCADE,
  token TEXT NOT NULL UNIQUE,
  draft TEXT NOT NULL,
  hue REAL,
  made_at TEXT NOT NULL,
  shared TEXT NOT NULL DEFAULT '',
  shared_at TEXT NOT NULL DEFAULT '',
  withdrawn_at TEXT NOT NULL DEFAULT '',
  views INTEGER NOT NULL DEFAULT 0,
  viewed_at TEXT NOT NULL DEFAULT ''
) STRICT;

-- Every state of its draft that was saved.
CREATE TABLE starter_version (
  site_id INTEGER NOT NULL REFERENCES starter_site(id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  at TEXT NOT NULL,
  by TEXT NOT NULL,
  draft TEXT NOT NULL,
  PRIMARY KEY (site_id, number)
) STRICT, WITHOUT ROWID;
