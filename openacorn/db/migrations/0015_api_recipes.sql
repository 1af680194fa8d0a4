-- Recipes of JSON APIs beside those of directories.
ALTER TABLE reading_plan ADD COLUMN kind TEXT NOT NULL DEFAULT 'directory' CHECK (kind IN ('directory', 'api'));
