-- Where new websites are published. kind: folder, sftp or git; address: a path, sftp://…, ssh://… or https://…; account: to sign in;
-- host_key: the key that a server showed when it was confirmed; branch: of a repository. The password or key is sealed elsewhere.
CREATE TABLE website_host (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  kind TEXT NOT NULL,
  address TEXT NOT NULL,
  account TEXT NOT NULL,
  host_key TEXT NOT NULL,
  branch TEXT NOT NULL
) STRICT;

-- Websites that were published. folder: below the host's address; files: path → SHA-256, as they were to be; finished_at: '' while
-- it goes on, and when it broke off; problem: why it did.
CREATE TABLE publication (
  id INTEGER PRIMARY KEY,
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  host_id INTEGER NOT NULL REFERENCES website_host(id) ON DELETE CASCADE,
  folder TEXT NOT NULL,
  begun_at TEXT NOT NULL,
  by TEXT NOT NULL,
  files TEXT NOT NULL,
  written INTEGER NOT NULL DEFAULT 0,
  removed INTEGER NOT NULL DEFAULT 0,
  finished_at TEXT NOT NULL DEFAULT '',
  problem TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX publication_business ON publication (business_id);
