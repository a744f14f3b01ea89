-- +goose Up
-- The simulated post: letters to households and their answers, none of which leaves this machine.
CREATE TABLE letters (
  id      TEXT PRIMARY KEY,
  box     TEXT NOT NULL CHECK (box IN ('out', 'in')),
  mail    TEXT NOT NULL,                    -- its Message-ID
  answers TEXT NOT NULL DEFAULT '',         -- the id of the letter that it answers
  dog     TEXT NOT NULL REFERENCES dogs (id),
  person  TEXT NOT NULL DEFAULT '',         -- to or from whom, '' for the whole household
  subject TEXT NOT NULL,
  text    TEXT NOT NULL,
  raw     BLOB NOT NULL,                    -- the letter, RFC 5322
  homework INTEGER NOT NULL DEFAULT 0,      -- what it answers may be lines of homework
  made    INTEGER NOT NULL,
  made_by TEXT NOT NULL,
  entered INTEGER,                          -- when its lines were entered, UTC ms
  UNIQUE (box, mail)
) STRICT;
CREATE INDEX letters_made ON letters (made);
