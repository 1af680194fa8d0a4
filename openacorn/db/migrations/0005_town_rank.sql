-- One source's answer to a trade's word at a town's centre, in its own order: what a business's rank is read from.
CREATE TABLE town_rank (
  source TEXT NOT NULL,
  trade TEXT NOT NULL,
  town TEXT NOT NULL COLLATE NOCASE,
  at TEXT NOT NULL,
  word TEXT NOT NULL,
  more INTEGER NOT NULL,
  ids TEXT NOT NULL,
  PRIMARY KEY (source, trade, town)
) STRICT, WITHOUT ROWID;
