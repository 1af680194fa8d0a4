-- The gateway that text messages go by; secret: its key, sealed; token: of the address at which it tells of incoming ones; read_to: its
-- own number of the last incoming one that was read.
CREATE TABLE text_gateway (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  recipe TEXT NOT NULL,
  secret TEXT NOT NULL DEFAULT '',
  token TEXT NOT NULL,
  read_to TEXT NOT NULL DEFAULT '',
  problem TEXT NOT NULL DEFAULT ''
) STRICT;

-- Numbers on registers of who must not be called or texted. dated: the day of the register.
CREATE TABLE do_not_call (
  number TEXT NOT NULL,
  register TEXT NOT NULL,
  dated TEXT NOT NULL,
  PRIMARY KEY (number, register)
) STRICT, WITHOUT ROWID;
