-- Listings in the form in which they are compared, each put into it once. `way`: how it was made; what was made otherwise is made again.
CREATE TABLE listing_record (
  listing_id INTEGER PRIMARY KEY REFERENCES listing (id) ON DELETE CASCADE,
  way INTEGER NOT NULL,
  record TEXT NOT NULL
) STRICT;

-- What a listing no longer says must not stand in its record either.
CREATE TRIGGER listing_record_outdated AFTER UPDATE OF body ON listing WHEN old.body != new.body
BEGIN DELETE FROM listing_record WHERE listing_id = old.id; END;
