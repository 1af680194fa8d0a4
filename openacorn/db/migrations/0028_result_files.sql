-- How files of results with these headings were read last. fields: what is read → its heading; meanings: word → our result; channel:
-- by what the businesses were contacted.
CREATE TABLE result_file (
  headings TEXT PRIMARY KEY,
  fields TEXT NOT NULL,
  meanings TEXT NOT NULL,
  channel TEXT NOT NULL,
  at TEXT NOT NULL
) STRICT, WITHOUT ROWID;
