-- Which copy of the table's columns (a file beside the database) holds this database's businesses; '' for none.
ALTER TABLE change_counter ADD COLUMN copy TEXT NOT NULL DEFAULT '';

-- To find a business by its number.
CREATE INDEX business_by_phone ON business (phone) WHERE phone != '';
