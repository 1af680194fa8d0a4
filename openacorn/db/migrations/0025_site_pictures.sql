-- Pictures of old websites, for new ones. page: where it was seen; alt: what that page says it shows; logo: 1 if it is likely the
-- business's own; agreed_at, agreed_by: when the owner's consent was noted and by whom, '' before that.
CREATE TABLE starter_picture (
  id INTEGER PRIMARY KEY,
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  url TEXT NOT NULL,
  page TEXT NOT NULL,
  alt TEXT NOT NULL,
  logo INTEGER NOT NULL,
  width INTEGER NOT NULL,
  height INTEGER NOT NULL,
  fetched_at TEXT NOT NULL,
  agreed_at TEXT NOT NULL DEFAULT '',
  agreed_by TEXT NOT NULL DEFAULT '',
  UNIQUE (business_id, url)
) STRICT;

-- The files of a picture. form: avif or webp.
CREATE TABLE starter_picture_file (
  picture_id INTEGER NOT NULL REFERENCES starter_picture(id) ON DELETE CASCADE,
  width INTEGER NOT NULL,
  form TEXT NOT NULL,
  body BLOB NOT NULL,
  PRIMARY KEY (picture_id, width, form)
) STRICT;
