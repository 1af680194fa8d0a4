-- What owners read is in their language: as set by hand for a business or a list ('' goes by country and website), and as a message
-- was written ('en' before there were others).
CREATE TABLE owner_language (
  business_id INTEGER PRIMARY KEY REFERENCES business(id) ON DELETE CASCADE,
  language TEXT NOT NULL
) STRICT;
ALTER TABLE shortlist ADD COLUMN language TEXT NOT NULL DEFAULT '';
ALTER TABLE message ADD COLUMN language TEXT NOT NULL DEFAULT 'en';
ALTER TABLE message_template ADD COLUMN language TEXT NOT NULL DEFAULT 'en';
