-- By what the first contact was made: 'call', 'email', 'text', 'social', '' where that is not known.
ALTER TABLE outcome ADD COLUMN channel TEXT NOT NULL DEFAULT '';

-- What a channel adds to the log odds of winning, as last learnt.
CREATE TABLE channel_odds (
  channel TEXT PRIMARY KEY,
  shift REAL NOT NULL
) STRICT, WITHOUT ROWID;
