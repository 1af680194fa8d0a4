-- A site that no listing gives, and the evidence that lies around a site: where one was looked for, names as domains.
ALTER TABLE audit ADD COLUMN found TEXT NOT NULL DEFAULT '';
ALTER TABLE audit ADD COLUMN around TEXT NOT NULL DEFAULT '{}';
