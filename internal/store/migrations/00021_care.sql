-- +goose Up
-- What is really done to a dog, again and again or for a course of days.
CREATE TABLE care_tasks (
  id          TEXT PRIMARY KEY,
  dog         TEXT NOT NULL REFERENCES dogs (id),
  name        TEXT NOT NULL,
  sites       TEXT NOT NULL,                -- JSON, a list of words
  every_days  INTEGER NOT NULL DEFAULT 0,   -- 0 for a course
  course_days INTEGER NOT NULL DEFAULT 0,
  per_day     INTEGER NOT NULL DEFAULT 1,   -- of a course
  from_day    TEXT NOT NULL,                -- YYYY-MM-DD in the practice's zone
  whose       TEXT NOT NULL DEFAULT '',     -- '', 'vet' or 'groomer': who says how
  named       TEXT NOT NULL DEFAULT '',     -- which one
  said        TEXT NOT NULL DEFAULT '',     -- what they said
  made        INTEGER NOT NULL,
  deleted     INTEGER
) STRICT;
CREATE INDEX care_tasks_of ON care_tasks (dog);
-- Each time that it was done, at one site.
CREATE TABLE care_done (
  id      TEXT PRIMARY KEY,
  task    TEXT NOT NULL REFERENCES care_tasks (id),
  site    TEXT NOT NULL,
  day     TEXT NOT NULL,
  person  TEXT NOT NULL DEFAULT '',
  amount  TEXT NOT NULL DEFAULT '',         -- how much, as typed
  left    INTEGER NOT NULL DEFAULT 0,       -- something was left over
  made    INTEGER NOT NULL,
  deleted INTEGER
) STRICT;
CREATE INDEX care_done_of ON care_done (task, day);
-- Sites of a dog that are sore, or that are never touched.
CREATE TABLE care_marks (
  dog  TEXT NOT NULL REFERENCES dogs (id),
  site TEXT NOT NULL,
  mark TEXT NOT NULL,
  said TEXT NOT NULL DEFAULT '',            -- who said so, and what
  PRIMARY KEY (dog, site)
) STRICT;
