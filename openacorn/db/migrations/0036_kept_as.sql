-- The business that one was merged into: whoever comes by an old address is told.
ALTER TABLE business_gone ADD COLUMN kept_as INTEGER;
