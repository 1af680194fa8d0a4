-- Numbers are verified as addresses are: by whoever can, with the type of their line.
ALTER TABLE verification ADD COLUMN line TEXT NOT NULL DEFAULT '';
