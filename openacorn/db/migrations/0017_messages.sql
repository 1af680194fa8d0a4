-- A mailbox that messages leave by and arrive in; its passwords are sealed as secrets. warm_up_from: a day, '' if it is warm.
-- uid_validity, last_uid: how far its inbox was read.
CREATE TABLE mailbox (
  id INTEGER PRIMARY KEY,
  address TEXT NOT NULL UNIQUE COLLATE NOCASE,
  name TEXT NOT NULL DEFAULT '',
  smtp_host TEXT NOT NULL,
  smtp_port INTEGER NOT NULL,
  smtp_security TEXT NOT NULL CHECK (smtp_security IN ('tls', 'starttls', 'none')),
  imap_host TEXT NOT NULL DEFAULT '',
  imap_port INTEGER NOT NULL DEFAULT 993,
  imap_security TEXT NOT NULL DEFAULT 'tls' CHECK (imap_security IN ('tls', 'starttls', 'none')),
  user TEXT NOT NULL DEFAULT '',
  sign_in TEXT NOT NULL DEFAULT 'password' CHECK (sign_in IN ('password', 'token', 'none')),
  daily_limit INTEGER NOT NULL DEFAULT 40,
  gap_s INTEGER NOT NULL DEFAULT 180,
  jitter_s INTEGER NOT NULL DEFAULT 120,
  warm_up_from TEXT NOT NULL DEFAULT '',
  paused INTEGER NOT NULL DEFAULT 0,
  problem TEXT NOT NULL DEFAULT '',
  retry_at TEXT NOT NULL DEFAULT '',
  reading_problem TEXT NOT NULL DEFAULT '',
  uid_validity INTEGER NOT NULL DEFAULT 0,
  last_uid INTEGER NOT NULL DEFAULT 0,
  read_at TEXT NOT NULL DEFAULT '',
  added_at TEXT NOT NULL
) STRICT;

-- Templates of the user's own, and shipped ones as changed; the newest version of an id counts. dropped: not offered any more.
CREATE TABLE message_template (
  id TEXT NOT NULL,
  version INTEGER NOT NULL,
  kind TEXT NOT NULL,
  name TEXT NOT NULL,
  service TEXT NOT NULL DEFAULT '',
  variant TEXT NOT NULL DEFAULT '',
  subject TEXT NOT NULL DEFAULT '',
  text TEXT NOT NULL,
  at TEXT NOT NULL,
  by TEXT NOT NULL DEFAULT '',
  dropped INTEGER NOT NULL DEFAULT 0,
  PRIMARY KEY (id, version)
) STRICT, WITHOUT ROWID;

CREATE TABLE sequence (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  steps TEXT NOT NULL,
  created_at TEXT NOT NULL,
  by TEXT NOT NULL DEFAULT '',
  paused INTEGER NOT NULL DEFAULT 0
) STRICT;

-- A business on its way through a sequence. step: index of the last one begun, -1 before the first; next_at: when the next is due,
-- '' while a message of it waits to leave; address: of the person written to, '' if there is none.
CREATE TABLE enrolment (
  id INTEGER PRIMARY KEY,
  sequence_id INTEGER NOT NULL REFERENCES sequence(id),
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  address TEXT NOT NULL DEFAULT '' COLLATE NOCASE,
  person TEXT NOT NULL DEFAULT '',
  service TEXT NOT NULL DEFAULT '',
  state TEXT NOT NULL DEFAULT 'active' CHECK (state IN ('active', 'paused', 'stopped', 'finished')),
  step INTEGER NOT NULL DEFAULT -1,
  next_at TEXT NOT NULL DEFAULT '',
  reason TEXT NOT NULL DEFAULT '',
  started_at TEXT NOT NULL,
  ended_at TEXT NOT NULL DEFAULT '',
  by TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE UNIQUE INDEX enrolment_once_a_business ON enrolment (business_id) WHERE state IN ('active', 'paused');
CREATE UNIQUE INDEX enrolment_once_a_person ON enrolment (address) WHERE state IN ('active', 'paused') AND address != '';
CREATE INDEX enrolment_due ON enrolment (next_at) WHERE state = 'active' AND next_at != '';
CREATE INDEX enrolment_by_sequence ON enrolment (sequence_id, state);

-- What is written to a business. 'sending' is stored before the server hears of it: found after a crash, it becomes 'perhaps sent'.
-- because: what each sentence rests on, as JSON; message_id: as on the wire, '' before it was tried.
CREATE TABLE message (
  id INTEGER PRIMARY KEY,
  business_id INTEGER NOT NULL REFERENCES business(id) ON DELETE CASCADE,
  enrolment_id INTEGER NOT NULL DEFAULT 0,
  step INTEGER NOT NULL DEFAULT 0,
  kind TEXT NOT NULL,
  template TEXT NOT NULL DEFAULT '',
  template_version INTEGER NOT NULL DEFAULT 0,
  variant TEXT NOT NULL DEFAULT '',
  service TEXT NOT NULL DEFAULT '',
  address TEXT NOT NULL COLLATE NOCASE,
  person TEXT NOT NULL DEFAULT '',
  subject TEXT NOT NULL DEFAULT '',
  text TEXT NOT NULL,
  because TEXT NOT NULL DEFAULT '[]',
  state TEXT NOT NULL CHECK (state IN (
    'to approve', 'waiting', 'sending', 'sent', 'perhaps sent', 'failed', 'bounced', 'cancelled')),
  mailbox_id INTEGER NOT NULL DEFAULT 0,
  message_id TEXT NOT NULL DEFAULT '',
  in_reply_to TEXT NOT NULL DEFAULT '',
  zone TEXT NOT NULL DEFAULT '',
  country TEXT NOT NULL DEFAULT '',
  due_at TEXT NOT NULL,
  made_at TEXT NOT NULL,
  tried_at TEXT NOT NULL DEFAULT '',
  sent_at TEXT NOT NULL DEFAULT '',
  problem TEXT NOT NULL DEFAULT '',
  by TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX message_by_state ON message (state, due_at);
CREATE INDEX message_by_business ON message (business_id, id);
CREATE INDEX message_by_enrolment ON message (enrolment_id, id);
CREATE INDEX message_by_address ON message (address, id);
CREATE INDEX message_by_sent ON message (sent_at) WHERE sent_at != '';
CREATE UNIQUE INDEX message_once ON message (message_id) WHERE message_id != '';

-- What arrived. answers: id of the message it answers, 0 if none is known; business_id: NULL where nobody is known by its sender.
CREATE TABLE incoming (
  id INTEGER PRIMARY KEY,
  mailbox_id INTEGER NOT NULL,
  uid_validity INTEGER NOT NULL,
  uid INTEGER NOT NULL,
  kind TEXT NOT NULL,
  message_id TEXT NOT NULL DEFAULT '',
  business_id INTEGER REFERENCES business(id) ON DELETE SET NULL,
  answers INTEGER NOT NULL DEFAULT 0,
  address TEXT NOT NULL DEFAULT '' COLLATE NOCASE,
  name TEXT NOT NULL DEFAULT '',
  subject TEXT NOT NULL DEFAULT '',
  text TEXT NOT NULL DEFAULT '',
  attachments TEXT NOT NULL DEFAULT '[]',
  at TEXT NOT NULL,
  done INTEGER NOT NULL DEFAULT 0,
  UNIQUE (mailbox_id, uid_validity, uid)
) STRICT;
CREATE INDEX incoming_by_business ON incoming (business_id, id);
CREATE INDEX incoming_to_answer ON incoming (done, id);

-- How sending is done, for the whole agency: one row.
CREATE TABLE sending (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  rules TEXT NOT NULL
) STRICT;

-- Three to begin with; they can be changed like one's own.
INSERT INTO sequence (name, steps, created_at) VALUES
  ('E-mail, then call', '{"name":"E-mail, then call","steps":[{"kind":"email","after_days":0,"templates":[],"when":"always"},{"kind":"email","after_days":3,"templates":[],"when":"always"},{"kind":"call","after_days":2,"templates":[],"when":"always"},{"kind":"email","after_days":5,"templates":[],"when":"always"},{"kind":"call","after_days":0,"templates":[],"when":"bounced"}],"quiet_days":60}', '2026-11-30T00:00:00+00:00'),
  ('Page first', '{"name":"Page first","steps":[{"kind":"page","after_days":0,"templates":[],"when":"always"},{"kind":"email","after_days":1,"templates":[],"when":"always"},{"kind":"call","after_days":2,"templates":[],"when":"page opened"},{"kind":"email","after_days":4,"templates":[],"when":"page not opened"},{"kind":"email","after_days":5,"templates":[],"when":"always"}],"quiet_days":60}', '2026-11-30T00:00:00+00:00'),
  ('Three short e-mails', '{"name":"Three short e-mails","steps":[{"kind":"email","after_days":0,"templates":[],"when":"always"},{"kind":"email","after_days":4,"templates":[],"when":"always"},{"kind":"email","after_days":7,"templates":[],"when":"always"}],"quiet_days":90}', '2026-11-30T00:00:00+00:00');
