-- +goose Up
-- Two ways of working a plan, compared by chance: what was meant, and the seed by which the order of each session was drawn.
CREATE TABLE experiments (
  id     TEXT PRIMARY KEY,
  plan   TEXT NOT NULL REFERENCES plans (id),
  way_a  TEXT NOT NULL,
  way_b  TEXT NOT NULL,
  pairs  INTEGER NOT NULL,                       -- sessions
  each   INTEGER NOT NULL,                       -- trials of a set
  seed   INTEGER NOT NULL,
  made   INTEGER NOT NULL,                       -- UTC Unix ms
  ended  INTEGER                                 -- stopped before its end
) STRICT;
CREATE INDEX experiments_of_plan ON experiments (plan, made);
ALTER TABLE blocks ADD COLUMN experiment TEXT NOT NULL DEFAULT ''; -- what it was given of one, as JSON; '' for none
