-- +goose Up
-- Levels belong to a handler. A plan knows who began it, whose level blocks mean that name none, and who is its main handler now.
-- What was worked before went by one level: it stays that of the main handler, who ran the first session.
ALTER TABLE plans ADD COLUMN founder TEXT NOT NULL DEFAULT '';
ALTER TABLE plans ADD COLUMN main_handler TEXT NOT NULL DEFAULT '';
UPDATE plans SET founder = coalesce((SELECT b.handler FROM blocks b JOIN sessions s ON s.id = b.session
  WHERE b.plan = plans.id AND s.deleted IS NULL ORDER BY s.opened, s.id, b.ord LIMIT 1), '');
UPDATE plans SET main_handler = founder;

-- Derived by the fold: whose level was worked, '' for that of the one who began the plan.
ALTER TABLE blocks ADD COLUMN level TEXT NOT NULL DEFAULT '';
ALTER TABLE trials ADD COLUMN level TEXT NOT NULL DEFAULT '';
ALTER TABLE moves ADD COLUMN level TEXT NOT NULL DEFAULT '';
ALTER TABLE verdicts ADD COLUMN level TEXT NOT NULL DEFAULT '';

-- Where the handlers beside the main one have come to: as standings, which are the main handler's.
CREATE TABLE levels (
  plan          TEXT NOT NULL REFERENCES plans (id),
  level         TEXT NOT NULL,
  reached       TEXT NOT NULL,
  given         INTEGER NOT NULL,
  since         TEXT NOT NULL,
  half          TEXT NOT NULL,
  splits        INTEGER NOT NULL,
  since_session TEXT NOT NULL,
  since_at      REAL NOT NULL,
  sessions      INTEGER NOT NULL,
  last_session  TEXT NOT NULL,
  last_day      TEXT NOT NULL,
  last_place    TEXT NOT NULL,
  stopped       INTEGER NOT NULL,
  last_advice   TEXT NOT NULL,
  last_deed     TEXT NOT NULL,
  finished      INTEGER NOT NULL,
  apart         INTEGER NOT NULL,
  probe_gap     INTEGER NOT NULL,
  probe_due     TEXT NOT NULL,
  step_at       INTEGER NOT NULL,
  step_of       INTEGER NOT NULL,
  rule          TEXT NOT NULL,
  entries       INTEGER NOT NULL,
  repeats       INTEGER NOT NULL,
  stalled       INTEGER NOT NULL,
  rung          INTEGER NOT NULL,
  rounds        TEXT NOT NULL,
  PRIMARY KEY (plan, level)
) STRICT;
