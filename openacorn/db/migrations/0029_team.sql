-- People who sign in. password: an Argon2id hash, '' until they have chosen one; code_secret: sealed, '' without one-time codes;
-- code_used: the 30 seconds whose code
-- was used last; recovery: hashes of codes not yet used, JSON; permissions: JSON, NULL where the role says it all; active 0: may not sign in.
CREATE TABLE account (
  id INTEGER PRIMARY KEY,
  email TEXT NOT NULL UNIQUE COLLATE NOCASE,
  name TEXT NOT NULL UNIQUE COLLATE NOCASE,
  role TEXT NOT NULL,
  permissions TEXT,
  password TEXT NOT NULL DEFAULT '',
  code_secret TEXT NOT NULL DEFAULT '',
  code_used INTEGER NOT NULL DEFAULT 0,
  recovery TEXT NOT NULL DEFAULT '[]',
  active INTEGER NOT NULL DEFAULT 1,
  made_at TEXT NOT NULL,
  seen_at TEXT NOT NULL DEFAULT ''
) STRICT;

-- What a browser or a program shows to be let in; hash: SHA-256 of what it shows, which is kept nowhere. scopes: JSON, NULL for a browser.
CREATE TABLE credential (
  id INTEGER PRIMARY KEY,
  hash TEXT NOT NULL UNIQUE,
  account_id INTEGER NOT NULL REFERENCES account(id) ON DELETE CASCADE,
  kind TEXT NOT NULL CHECK (kind IN ('session', 'token')),
  name TEXT NOT NULL,
  scopes TEXT,
  address TEXT NOT NULL DEFAULT '',
  made_at TEXT NOT NULL,
  seen_at TEXT NOT NULL,
  expires_at TEXT NOT NULL
) STRICT;
CREATE INDEX credential_by_account ON credential (account_id);

-- A link by which somebody chooses a password, once.
CREATE TABLE welcome_link (
  hash TEXT PRIMARY KEY,
  account_id INTEGER NOT NULL REFERENCES account(id) ON DELETE CASCADE,
  expires_at TEXT NOT NULL
) STRICT;

-- Sign-ins that failed; who: the address typed in, as a hash.
CREATE TABLE failed_sign_in (
  at TEXT NOT NULL,
  who TEXT NOT NULL,
  address TEXT NOT NULL
) STRICT;
CREATE INDEX failed_sign_in_by_time ON failed_sign_in (at);

-- What people did. author: the name they had then; what: the act; subject: what it was done to, as in the
-- address (path).
CREATE TABLE activity_log (
  id INTEGER PRIMARY KEY,
  at TEXT NOT NULL,
  account_id INTEGER,
  author TEXT NOT NULL,
  what TEXT NOT NULL,
  subject TEXT NOT NULL,
  path TEXT NOT NULL,
  by_token TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX activity_log_by_account ON activity_log (account_id, id);
CREATE INDEX activity_log_by_path ON activity_log (path, id);

ALTER TABLE deed ADD COLUMN by TEXT NOT NULL DEFAULT '';
