-- Where an import is fetched from again on every run of its sweep; '' for a file that was brought.
ALTER TABLE import ADD COLUMN address TEXT NOT NULL DEFAULT '';
