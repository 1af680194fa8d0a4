-- What a call list for a dialler holds, as chosen last; and which results were read back, so that a file read twice notes nothing twice.
CREATE TABLE call_list (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  columns TEXT NOT NULL
) STRICT;
CREATE TABLE call_result_read (
  business_id INTEGER NOT NULL,
  at TEXT NOT NULL,
  result TEXT NOT NULL,
  PRIMARY KEY (business_id, at, result)
) STRICT, WITHOUT ROWID;
