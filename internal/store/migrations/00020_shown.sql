-- +goose Up
-- Safety steps that a trainer has shown to somebody: they are open to that person from then on.
CREATE TABLE shown (
  id      TEXT PRIMARY KEY,
  plan    TEXT NOT NULL REFERENCES plans (id), -- whose ladder it is
  step    TEXT NOT NULL,
  person  TEXT NOT NULL,
  by      TEXT NOT NULL,                       -- the trainer
  day     TEXT NOT NULL,                       -- YYYY-MM-DD in the practice's zone
  made    INTEGER NOT NULL,
  deleted INTEGER
) STRICT;
CREATE INDEX shown_of ON shown (plan);
