-- Proposals to businesses. body: what is offered; token: of the address where it can be accepted; accepted_from: the address of the
-- connection by which it was.
CREATE TABLE proposal (
  id INTEGER PRIMARY KEY,
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  token TEXT NOT NULL UNIQUE,
  body TEXT NOT NULL,
  made_at TEXT NOT NULL,
  by TEXT NOT NULL,
  shared_at TEXT NOT NULL DEFAULT '',
  withdrawn_at TEXT NOT NULL DEFAULT '',
  accepted_at TEXT NOT NULL DEFAULT '',
  accepted_by TEXT NOT NULL DEFAULT '',
  accepted_from TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX proposal_by_business ON proposal (business_id, id);
