-- Who sees a list or a territory: everybody, or whoever made it and those it is shared with (owners and managers see all).
ALTER TABLE shortlist ADD COLUMN private INTEGER NOT NULL DEFAULT 0;
ALTER TABLE shortlist ADD COLUMN made_by INTEGER;
ALTER TABLE territory ADD COLUMN private INTEGER NOT NULL DEFAULT 0;
ALTER TABLE territory ADD COLUMN made_by INTEGER;
CREATE TABLE share (
  kind TEXT NOT NULL CHECK (kind IN ('shortlist', 'territory')),
  thing INTEGER NOT NULL,
  account_id INTEGER NOT NULL REFERENCES account(id) ON DELETE CASCADE,
  PRIMARY KEY (kind, thing, account_id)
) STRICT, WITHOUT ROWID;

-- Who gets businesses that are put on a list, in this order. trade: '' for any; territory_id: NULL for anywhere; people: names, JSON.
CREATE TABLE assignment_rule (
  place INTEGER PRIMARY KEY,
  trade TEXT NOT NULL DEFAULT '',
  territory_id INTEGER REFERENCES territory(id) ON DELETE CASCADE,
  people TEXT NOT NULL
) STRICT;

-- The most that somebody may do of something. what: requests or cost a month, contacts a day, exports a month.
CREATE TABLE allowance (
  account_id INTEGER NOT NULL REFERENCES account(id) ON DELETE CASCADE,
  what TEXT NOT NULL,
  most REAL NOT NULL,
  PRIMARY KEY (account_id, what)
) STRICT, WITHOUT ROWID;
CREATE TABLE taken_out (
  id INTEGER PRIMARY KEY,
  at TEXT NOT NULL,
  account_id INTEGER NOT NULL,
  what TEXT NOT NULL
) STRICT;
CREATE INDEX taken_out_by_account ON taken_out (account_id, at);
ALTER TABLE run ADD COLUMN account_id INTEGER NOT NULL DEFAULT 0;
CREATE INDEX step_by_author ON step (by, at);

-- A view of the table for whoever has its link, until a day. hash: SHA-256 of what the link shows.
CREATE TABLE view_link (
  id INTEGER PRIMARY KEY,
  hash TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL,
  filter TEXT NOT NULL,
  columns TEXT NOT NULL,
  sort TEXT NOT NULL,
  by TEXT NOT NULL,
  account_id INTEGER NOT NULL,
  made_at TEXT NOT NULL,
  expires_at TEXT NOT NULL,
  opened INTEGER NOT NULL DEFAULT 0,
  opened_at TEXT NOT NULL DEFAULT ''
) STRICT;

-- Keys of devices that somebody signs in with instead of a password (WebAuthn). key: the public key; uses: the device's own count.
CREATE TABLE passkey (
  id INTEGER PRIMARY KEY,
  account_id INTEGER NOT NULL REFERENCES account(id) ON DELETE CASCADE,
  credential BLOB NOT NULL UNIQUE,
  key BLOB NOT NULL,
  uses INTEGER NOT NULL,
  name TEXT NOT NULL,
  made_at TEXT NOT NULL,
  used_at TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX passkey_by_account ON passkey (account_id);

-- What a run's sources took, each by itself.
CREATE TABLE lane_spend (
  run_id INTEGER NOT NULL REFERENCES run(id),
  source TEXT NOT NULL,
  requests INTEGER NOT NULL,
  cost REAL NOT NULL,
  PRIMARY KEY (run_id, source)
) STRICT, WITHOUT ROWID;
