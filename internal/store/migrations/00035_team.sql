-- +goose Up
-- Who works which dog on a day, and what colleagues tell each other.
CREATE TABLE assignments (
  dog    TEXT NOT NULL REFERENCES dogs (id),
  day    TEXT NOT NULL,                    -- YYYY-MM-DD in the practice's zone
  person TEXT NOT NULL REFERENCES people (id),
  PRIMARY KEY (dog, day)
) STRICT, WITHOUT ROWID;
CREATE INDEX assignments_by_day ON assignments (day);
CREATE TABLE notes (
  id      TEXT PRIMARY KEY,
  dog     TEXT NOT NULL REFERENCES dogs (id),
  plan    TEXT NOT NULL DEFAULT '',        -- '' for the dog as a whole
  session TEXT NOT NULL DEFAULT '',
  trial   TEXT NOT NULL DEFAULT '',        -- of the session, by id
  number  INTEGER NOT NULL DEFAULT 0,      -- of the trial in its session, as it was when the note was written
  whom    TEXT NOT NULL DEFAULT '',        -- to whom, '' for all
  text    TEXT NOT NULL,
  made    INTEGER NOT NULL,
  made_by TEXT NOT NULL,
  done    INTEGER,                         -- UTC Unix ms, when it was dealt with
  done_by TEXT NOT NULL DEFAULT '',
  deleted INTEGER
) STRICT;
CREATE INDEX notes_open ON notes (made) WHERE done IS NULL AND deleted IS NULL;
CREATE INDEX notes_of_dog ON notes (dog, made);
-- Few blocks have one, and each page of a dog asks for the last.
CREATE INDEX blocks_growled ON blocks (dog) WHERE growls > 0;
