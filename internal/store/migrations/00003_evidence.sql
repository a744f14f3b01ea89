-- +goose Up
-- What a block was for ('' teaches; place, baseline, probe), and behaviour offered in it without a cue.
ALTER TABLE blocks ADD COLUMN mode TEXT NOT NULL DEFAULT '';
ALTER TABLE blocks ADD COLUMN offers INTEGER NOT NULL DEFAULT 0;
-- From its first trial to its last, breaks left out (s).
ALTER TABLE blocks ADD COLUMN active REAL NOT NULL DEFAULT 0;
-- The first block of its skill on its day, of one dog, that has any trial: its first trial is cold.
ALTER TABLE blocks ADD COLUMN first INTEGER NOT NULL DEFAULT 0;

-- How a session was: weather, people, noise; a JSON list.
ALTER TABLE sessions ADD COLUMN tags TEXT NOT NULL DEFAULT '[]';

-- Which skill was asked for, where a block mixes several.
ALTER TABLE trials ADD COLUMN skill TEXT NOT NULL DEFAULT '';

-- The rule that spoke, and the trials it read; JSON.
ALTER TABLE verdicts ADD COLUMN rule TEXT NOT NULL DEFAULT '{}';
ALTER TABLE verdicts ADD COLUMN reads TEXT NOT NULL DEFAULT '[]';

-- Something forced the dog past its step. It lowers the reached step on its day.
CREATE TABLE setbacks (
  id      TEXT PRIMARY KEY,
  plan    TEXT NOT NULL REFERENCES plans (id),
  day     TEXT NOT NULL,
  at      INTEGER NOT NULL,                     -- UTC Unix ms: its place among the sessions
  steps   INTEGER NOT NULL,
  what    TEXT NOT NULL,
  made    INTEGER NOT NULL,
  deleted INTEGER
) STRICT;
CREATE INDEX sessions_tagged ON sessions (opened) WHERE tags <> '[]';
CREATE INDEX sessions_of_day ON sessions (dog, day);
CREATE INDEX setbacks_of_plan ON setbacks (plan, at);

-- A finished skill is probed at growing gaps (days); and whether a step was repeated or come back to too often.
ALTER TABLE standings ADD COLUMN probe_gap INTEGER NOT NULL DEFAULT 0;
ALTER TABLE standings ADD COLUMN probe_due TEXT NOT NULL DEFAULT '';
ALTER TABLE standings ADD COLUMN step_at INTEGER NOT NULL DEFAULT 0; -- index of the reached step
ALTER TABLE standings ADD COLUMN step_of INTEGER NOT NULL DEFAULT 0; -- number of steps
ALTER TABLE standings ADD COLUMN rule TEXT NOT NULL DEFAULT ''; -- the kind of the plan's rule
ALTER TABLE standings ADD COLUMN entries INTEGER NOT NULL DEFAULT 0;
ALTER TABLE standings ADD COLUMN repeats INTEGER NOT NULL DEFAULT 0;
