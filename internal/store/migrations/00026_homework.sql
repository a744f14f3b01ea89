-- +goose Up
-- A sheet of homework as it was given to somebody: what comes back is of its steps.
CREATE TABLE homework (
  id      TEXT PRIMARY KEY,
  dog     TEXT NOT NULL REFERENCES dogs (id),
  person  TEXT NOT NULL REFERENCES people (id),
  day     TEXT NOT NULL,                    -- YYYY-MM-DD in the practice's zone
  skills  TEXT NOT NULL,                    -- JSON: [{"plan", "step", "rev"}]
  line    TEXT NOT NULL DEFAULT '',         -- from the trainer
  large   INTEGER NOT NULL DEFAULT 0,
  made    INTEGER NOT NULL,
  made_by TEXT NOT NULL
) STRICT;
CREATE INDEX homework_of ON homework (dog, person, made);
-- What came back from home: tallies without an order, which are in no session, no rate and no proof. They move the level of the person alone.
CREATE TABLE homework_lines (
  id      TEXT PRIMARY KEY,
  dog     TEXT NOT NULL REFERENCES dogs (id),
  plan    TEXT NOT NULL REFERENCES plans (id),
  person  TEXT NOT NULL REFERENCES people (id),
  step    TEXT NOT NULL,
  rev     INTEGER NOT NULL,
  day     TEXT NOT NULL,                    -- YYYY-MM-DD, when it was done
  place   TEXT NOT NULL DEFAULT '',
  met     INTEGER NOT NULL,
  of      INTEGER NOT NULL,
  relaxed INTEGER NOT NULL,
  unsure  INTEGER NOT NULL,
  worried INTEGER NOT NULL,
  remark  TEXT NOT NULL DEFAULT '',
  came    TEXT NOT NULL,                    -- how: 'paper'
  level   TEXT NOT NULL,                    -- whose it is that its moves change, '' for that of the one who began the plan
  moves   TEXT NOT NULL,                    -- JSON: [{"ID", "From", "To", "Why"}]
  held    TEXT NOT NULL DEFAULT '',         -- why a good set raised nothing
  made    INTEGER NOT NULL,
  made_by TEXT NOT NULL,
  deleted INTEGER
) STRICT;
CREATE INDEX homework_lines_of ON homework_lines (plan, made);
CREATE INDEX homework_lines_dog ON homework_lines (dog, made);
-- The rules of a house, a line each.
CREATE TABLE house (
  dog     TEXT PRIMARY KEY REFERENCES dogs (id),
  never   TEXT NOT NULL DEFAULT '',
  invited TEXT NOT NULL DEFAULT '',
  always  TEXT NOT NULL DEFAULT '',
  version INTEGER NOT NULL DEFAULT 1
) STRICT;
-- When a trainer released a plan for home that was only kept away there, UTC ms; 0 for never.
ALTER TABLE plans ADD COLUMN released INTEGER NOT NULL DEFAULT 0;
