-- People who were erased: hashes under the installation's key, so that they are known if a source brings them again. kind: email, phone, name.
CREATE TABLE erased_person (
  hash TEXT PRIMARY KEY,
  kind TEXT NOT NULL,
  at TEXT NOT NULL
) STRICT, WITHOUT ROWID;

-- Why an agency may keep data of people in a country: its own words.
CREATE TABLE legal_basis (
  country TEXT PRIMARY KEY,
  text TEXT NOT NULL,
  at TEXT NOT NULL
) STRICT, WITHOUT ROWID;
