-- +goose Up
-- A class works through a programme, week by week: which dogs, since when, which of their plans, and at which meetings they were.
CREATE TABLE classes (
  id        TEXT PRIMARY KEY,
  name      TEXT NOT NULL,
  programme TEXT NOT NULL,                  -- JSON, as it was when the class began
  start     TEXT NOT NULL,                  -- YYYY-MM-DD, the day of the first meeting; one a week follows
  at        TEXT NOT NULL DEFAULT '',       -- HH:MM, '' for no hour
  minutes   INTEGER NOT NULL,
  place     TEXT NOT NULL DEFAULT '',
  made      INTEGER NOT NULL,
  made_by   TEXT NOT NULL,
  version   INTEGER NOT NULL DEFAULT 1,
  deleted   INTEGER
) STRICT;
CREATE TABLE class_dogs (
  class     TEXT NOT NULL REFERENCES classes (id),
  dog       TEXT NOT NULL REFERENCES dogs (id),
  joined    INTEGER NOT NULL,               -- the week in which it came in, from 1
  plans     TEXT NOT NULL,                  -- JSON: for each row of the programme the plan, '' for none
  PRIMARY KEY (class, dog)
) STRICT, WITHOUT ROWID;
CREATE TABLE class_meetings (
  class     TEXT NOT NULL REFERENCES classes (id),
  week      INTEGER NOT NULL,
  note      TEXT NOT NULL DEFAULT '',
  missed    TEXT NOT NULL,                  -- JSON, the dogs that were not there
  version   INTEGER NOT NULL DEFAULT 1,
  PRIMARY KEY (class, week)
) STRICT, WITHOUT ROWID;
