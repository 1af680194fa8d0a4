-- Addresses that are told what happens. events: a JSON list of types; problem: of the last delivery, '' if it arrived. The key that
-- deliveries are signed with is sealed elsewhere.
CREATE TABLE webhook (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  url TEXT NOT NULL,
  events TEXT NOT NULL,
  paused INTEGER NOT NULL DEFAULT 0,
  problem TEXT NOT NULL DEFAULT '',
  made_at TEXT NOT NULL
) STRICT;

-- What happened while there was a webhook. detail: what the trigger knew; at and payload: '' until it was looked at.
CREATE TABLE event (
  id INTEGER PRIMARY KEY,
  type TEXT NOT NULL,
  business_id INTEGER,
  detail TEXT NOT NULL DEFAULT '{}',
  at TEXT NOT NULL DEFAULT '',
  payload TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX event_to_look_at ON event (id) WHERE payload = '';

-- An event on its way to a webhook. next_at: when it is tried, '' once it is over; sent_at: when it arrived.
CREATE TABLE webhook_delivery (
  id INTEGER PRIMARY KEY,
  webhook_id INTEGER NOT NULL REFERENCES webhook(id) ON DELETE CASCADE,
  event_id INTEGER NOT NULL REFERENCES event(id) ON DELETE CASCADE,
  attempts INTEGER NOT NULL DEFAULT 0,
  next_at TEXT NOT NULL,
  sent_at TEXT NOT NULL DEFAULT '',
  problem TEXT NOT NULL DEFAULT '',
  UNIQUE (webhook_id, event_id)
) STRICT;
CREATE INDEX webhook_delivery_due ON webhook_delivery (next_at) WHERE next_at != '';

-- Whatever writes these tables, an event is written with it, in one transaction, or neither is.
CREATE TRIGGER event_of_run AFTER UPDATE OF state ON run
WHEN OLD.state = 'running' AND NEW.state != 'running' AND EXISTS (SELECT 1 FROM webhook) BEGIN
  INSERT INTO event (type, detail) VALUES ('run.finished', json_object('run', NEW.id));
END;
CREATE TRIGGER event_of_incoming AFTER INSERT ON incoming
WHEN NEW.business_id IS NOT NULL AND NEW.kind IN ('reply', 'refusal', 'opt-out', 'bounce') AND EXISTS (SELECT 1 FROM webhook) BEGIN
  INSERT INTO event (type, business_id, detail) VALUES (
    CASE NEW.kind WHEN 'bounce' THEN 'message.bounced' ELSE 'reply.received' END, NEW.business_id,
    json_object('kind', NEW.kind, 'subject', NEW.subject, 'address', NEW.address)
  );
END;
CREATE TRIGGER event_of_page_reply AFTER INSERT ON reply
WHEN NEW.suspect = '' AND EXISTS (SELECT 1 FROM webhook) BEGIN
  INSERT INTO event (type, business_id, detail) VALUES (
    'reply.received', (SELECT business_id FROM owner_page WHERE id = NEW.page_id),
    json_object('kind', 'page', 'subject', '', 'address', NEW.reach)
  );
END;
CREATE TRIGGER event_of_stage AFTER UPDATE OF stage ON member
WHEN OLD.stage != NEW.stage AND EXISTS (SELECT 1 FROM webhook) BEGIN
  INSERT INTO event (type, business_id, detail) VALUES (
    'stage.changed', NEW.business_id, json_object('shortlist', NEW.shortlist_id, 'before', OLD.stage, 'after', NEW.stage)
  );
END;
CREATE TRIGGER event_of_outcome AFTER INSERT ON outcome
WHEN NEW.stage IN ('won', 'lost') AND EXISTS (SELECT 1 FROM webhook) BEGIN
  INSERT INTO event (type, business_id, detail) VALUES (
    'business.' || NEW.stage, NEW.business_id, json_object('service', NEW.service, 'amount', NEW.amount, 'reason', NEW.reason)
  );
END;
CREATE TRIGGER event_of_outcome_changed AFTER UPDATE OF stage ON outcome
WHEN OLD.stage != NEW.stage AND NEW.stage IN ('won', 'lost') AND EXISTS (SELECT 1 FROM webhook) BEGIN
  INSERT INTO event (type, business_id, detail) VALUES (
    'business.' || NEW.stage, NEW.business_id, json_object('service', NEW.service, 'amount', NEW.amount, 'reason', NEW.reason)
  );
END;
CREATE TRIGGER event_of_refusal AFTER UPDATE OF standing ON business
WHEN NEW.standing = 'refused' AND OLD.standing != 'refused' AND EXISTS (SELECT 1 FROM webhook) BEGIN
  INSERT INTO event (type, business_id) VALUES ('business.refused', NEW.id);
END;
CREATE TRIGGER event_of_proposal AFTER UPDATE OF accepted_at ON proposal
WHEN OLD.accepted_at = '' AND NEW.accepted_at != '' AND EXISTS (SELECT 1 FROM webhook) BEGIN
  INSERT INTO event (type, business_id, detail) VALUES (
    'proposal.accepted', NEW.business_id, json_object('proposal', NEW.id, 'accepted_by', NEW.accepted_by)
  );
END;
