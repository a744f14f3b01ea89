-- +goose Up
-- How somebody likes distances written, and how long a pace of theirs is (m).
ALTER TABLE practice ADD COLUMN length TEXT NOT NULL DEFAULT 'm';
ALTER TABLE practice ADD COLUMN pace_m REAL NOT NULL DEFAULT 0.75;

-- A track (left, right …) is a plan with its own place that climbs the ladder of another one.
ALTER TABLE plans ADD COLUMN twin_of TEXT REFERENCES plans (id);
CREATE INDEX plans_twins ON plans (twin_of) WHERE twin_of IS NOT NULL;

-- What a dog showed of an exposure, 0…4; NULL for a trial that has a right answer.
ALTER TABLE trials ADD COLUMN state INTEGER;

-- Dimensions of the practice's own, beside those that everybody has.
CREATE TABLE dimensions (
  key     TEXT PRIMARY KEY,
  body    TEXT NOT NULL,
  version INTEGER NOT NULL DEFAULT 1,
  made    INTEGER NOT NULL,
  deleted INTEGER
) STRICT;

-- Templates of the practice's own; those that ship with the program are not in here.
CREATE TABLE templates (
  id      TEXT PRIMARY KEY,
  name    TEXT NOT NULL,
  kind    TEXT NOT NULL,
  body    TEXT NOT NULL,
  made    INTEGER NOT NULL,
  deleted INTEGER
) STRICT;

-- What happened between sessions against a plan's management.
CREATE TABLE breaches (
  id      TEXT PRIMARY KEY,
  plan    TEXT NOT NULL REFERENCES plans (id),
  day     TEXT NOT NULL,
  what    TEXT NOT NULL,
  note    TEXT NOT NULL DEFAULT '',
  made    INTEGER NOT NULL,
  deleted INTEGER
) STRICT;
CREATE INDEX breaches_of_plan ON breaches (plan, day);
