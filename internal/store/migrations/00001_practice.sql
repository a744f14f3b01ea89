-- +goose Up
-- Times are UTC Unix milliseconds, days YYYY-MM-DD in the practice's zone, ids UUIDs as text; only
-- the events' ids are blobs, because there are many.

CREATE TABLE practice (
  id      INTEGER PRIMARY KEY CHECK (id = 1),
  name    TEXT NOT NULL,
  zone    TEXT NOT NULL,
  person  TEXT NOT NULL REFERENCES people (id) DEFERRABLE INITIALLY DEFERRED, -- signed in, until signing in exists
  secret  BLOB NOT NULL,                        -- signs form tokens
  made    INTEGER NOT NULL,
  version INTEGER NOT NULL DEFAULT 1
) STRICT;

CREATE TABLE people (
  id      TEXT PRIMARY KEY,
  name    TEXT NOT NULL,
  role    TEXT NOT NULL DEFAULT 'trainer',      -- trainer, household, helper
  made    INTEGER NOT NULL,
  deleted INTEGER
) STRICT;

CREATE TABLE places (
  id      TEXT PRIMARY KEY,
  name    TEXT NOT NULL,
  notes   TEXT NOT NULL DEFAULT '',
  made    INTEGER NOT NULL,
  deleted INTEGER
) STRICT;

CREATE TABLE dogs (
  id        TEXT PRIMARY KEY,
  name      TEXT NOT NULL,
  born      TEXT NOT NULL DEFAULT '',           -- YYYY-MM-DD
  weight_kg REAL,                               -- kg
  household TEXT NOT NULL DEFAULT '',
  flags     TEXT NOT NULL DEFAULT '',           -- bite, bolt, health: shown first
  notes     TEXT NOT NULL DEFAULT '',
  version   INTEGER NOT NULL DEFAULT 1,
  made      INTEGER NOT NULL,
  deleted   INTEGER
) STRICT;

CREATE TABLE skills (
  id      TEXT PRIMARY KEY,
  name    TEXT NOT NULL,
  kind    TEXT NOT NULL,
  version INTEGER NOT NULL,                     -- of the definition in force
  made    INTEGER NOT NULL,
  deleted INTEGER
) STRICT;

CREATE TABLE definitions (
  skill   TEXT NOT NULL REFERENCES skills (id),
  version INTEGER NOT NULL,
  body    TEXT NOT NULL,
  made    INTEGER NOT NULL,
  made_by TEXT NOT NULL,
  PRIMARY KEY (skill, version)
) STRICT;

CREATE TABLE plans (
  id      TEXT PRIMARY KEY,
  dog     TEXT NOT NULL REFERENCES dogs (id),
  skill   TEXT NOT NULL REFERENCES skills (id),
  track   TEXT NOT NULL DEFAULT '',             -- left, right … each with its own place
  version INTEGER NOT NULL,
  made    INTEGER NOT NULL,
  deleted INTEGER
) STRICT;
CREATE INDEX plans_of_dog ON plans (dog);
CREATE INDEX plans_of_skill ON plans (skill);

CREATE TABLE plan_versions (
  plan    TEXT NOT NULL REFERENCES plans (id),
  version INTEGER NOT NULL,
  body    TEXT NOT NULL,                        -- rule, rate of reinforcement
  why     TEXT NOT NULL DEFAULT '',
  made    INTEGER NOT NULL,
  made_by TEXT NOT NULL,
  PRIMARY KEY (plan, version)
) STRICT;

CREATE TABLE steps (
  plan     TEXT NOT NULL,
  version  INTEGER NOT NULL,
  ord      INTEGER NOT NULL,                    -- 0 is the easiest
  id       TEXT NOT NULL,
  rev      INTEGER NOT NULL,
  criteria TEXT NOT NULL,
  safety   INTEGER NOT NULL DEFAULT 0,
  PRIMARY KEY (plan, version, ord),
  UNIQUE (plan, version, id),
  FOREIGN KEY (plan, version) REFERENCES plan_versions (plan, version)
) STRICT;

CREATE TABLE sessions (
  id        TEXT PRIMARY KEY,
  stale     INTEGER NOT NULL DEFAULT 1,         -- has events that its derived rows do not know
  fold      INTEGER NOT NULL DEFAULT 0,         -- version of the fold that made its derived rows
  opened    INTEGER NOT NULL DEFAULT 0,
  day       TEXT NOT NULL DEFAULT '',
  dog       TEXT NOT NULL DEFAULT '',
  place     TEXT NOT NULL DEFAULT '',
  ended     REAL,                               -- s of the session's clock, as derived rows are
  reason    TEXT NOT NULL DEFAULT '',
  next      TEXT NOT NULL DEFAULT '',
  pieces    INTEGER,
  deleted   INTEGER
) STRICT;
CREATE INDEX sessions_stale ON sessions (stale) WHERE stale = 1;
CREATE INDEX sessions_open ON sessions (opened) WHERE ended IS NULL AND deleted IS NULL AND opened > 0;
CREATE INDEX sessions_of_dog ON sessions (dog, opened);
CREATE INDEX sessions_by_time ON sessions (opened);

CREATE TABLE events (
  pos      INTEGER PRIMARY KEY,
  id       BLOB NOT NULL UNIQUE,
  session  TEXT NOT NULL REFERENCES sessions (id),
  v        INTEGER NOT NULL,
  dev      TEXT NOT NULL,
  seq      INTEGER NOT NULL,
  t        INTEGER NOT NULL,
  wall     INTEGER NOT NULL,
  by       TEXT NOT NULL,
  handler  TEXT NOT NULL,
  kind     TEXT NOT NULL,
  data     TEXT NOT NULL,
  received INTEGER NOT NULL
) STRICT;
CREATE INDEX events_of_session ON events (session);

-- +goose StatementBegin
CREATE TRIGGER events_are_never_changed BEFORE UPDATE ON events
BEGIN SELECT RAISE(ABORT, 'events are only ever added'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER events_are_never_deleted BEFORE DELETE ON events
BEGIN SELECT RAISE(ABORT, 'events are only ever added'); END;
-- +goose StatementEnd

-- The same id with other content: set aside and reported.
CREATE TABLE events_aside (
  pos      INTEGER PRIMARY KEY,
  id       BLOB NOT NULL,
  body     TEXT NOT NULL,
  received INTEGER NOT NULL
) STRICT;

-- What follows is derived from the events by the fold and replaced whole, session by session.

CREATE TABLE blocks (
  id           TEXT PRIMARY KEY,
  session      TEXT NOT NULL REFERENCES sessions (id),
  ord          INTEGER NOT NULL,
  plan         TEXT NOT NULL,
  plan_version INTEGER NOT NULL,
  track        TEXT NOT NULL,
  skill        TEXT NOT NULL,
  skills       TEXT NOT NULL DEFAULT '',        -- of a mixed block, as JSON
  definition   INTEGER NOT NULL,
  dog          TEXT NOT NULL,
  handler      TEXT NOT NULL,
  at           REAL NOT NULL,
  logged       INTEGER NOT NULL,
  unlogged     INTEGER NOT NULL,
  said         INTEGER NOT NULL,
  pieces_left  INTEGER,
  pays         INTEGER NOT NULL,
  pieces       INTEGER NOT NULL
) STRICT;
CREATE INDEX blocks_of_session ON blocks (session);
CREATE INDEX blocks_of_plan ON blocks (plan);
CREATE INDEX blocks_of_skill ON blocks (skill, dog);

CREATE TABLE trials (
  id         TEXT PRIMARY KEY,                  -- of its event; "#n" behind it for a tally's
  session    TEXT NOT NULL REFERENCES sessions (id),
  ord        INTEGER NOT NULL,
  block      TEXT NOT NULL,
  plan       TEXT NOT NULL,
  step       TEXT NOT NULL,
  rev        INTEGER NOT NULL,
  definition INTEGER NOT NULL,
  at         REAL NOT NULL,                     -- s of the session's clock
  began      REAL NOT NULL,
  outcome    TEXT NOT NULL,
  tapped     TEXT NOT NULL,
  latency_s  REAL,
  held_s     REAL,
  cues       INTEGER NOT NULL,
  easy       INTEGER NOT NULL,
  tally      INTEGER NOT NULL,
  counts     INTEGER NOT NULL,
  instead    TEXT NOT NULL DEFAULT '',
  source     TEXT NOT NULL DEFAULT '',
  after      TEXT NOT NULL DEFAULT '',
  pays       INTEGER NOT NULL,
  pieces     INTEGER NOT NULL,
  dev        TEXT NOT NULL,
  by         TEXT NOT NULL,
  handler    TEXT NOT NULL
) STRICT;
CREATE INDEX trials_of_session ON trials (session);
CREATE INDEX trials_of_plan ON trials (plan, step);

CREATE TABLE moves (
  id        TEXT PRIMARY KEY,
  session   TEXT NOT NULL REFERENCES sessions (id),
  ord       INTEGER NOT NULL,
  plan      TEXT NOT NULL,
  at        REAL NOT NULL,
  from_step TEXT NOT NULL,
  to_step   TEXT NOT NULL,
  why       TEXT NOT NULL
) STRICT;
CREATE INDEX moves_of_plan ON moves (plan);
CREATE INDEX moves_of_session ON moves (session);

CREATE TABLE verdicts (
  id      TEXT PRIMARY KEY,
  session TEXT NOT NULL REFERENCES sessions (id),
  ord     INTEGER NOT NULL,
  plan    TEXT NOT NULL,
  step    TEXT NOT NULL,
  at      REAL NOT NULL,
  advice  TEXT NOT NULL,
  deed    TEXT NOT NULL,
  reasons TEXT NOT NULL
) STRICT;
CREATE INDEX verdicts_of_session ON verdicts (session);
CREATE INDEX verdicts_of_plan ON verdicts (plan);

-- Where each plan's dog stands, from all its moves.
CREATE TABLE standings (
  plan          TEXT PRIMARY KEY REFERENCES plans (id),
  reached       TEXT NOT NULL,
  given         INTEGER NOT NULL,
  since         TEXT NOT NULL,                  -- the move that made it the reached step
  since_session TEXT NOT NULL,
  since_at      REAL NOT NULL,                  -- s of that session's clock
  sessions      INTEGER NOT NULL,
  last_session  TEXT NOT NULL,
  last_day      TEXT NOT NULL,
  last_place    TEXT NOT NULL,
  stopped       INTEGER NOT NULL,
  last_advice   TEXT NOT NULL,
  last_deed     TEXT NOT NULL,
  finished      INTEGER NOT NULL,               -- the reached step was passed as the last one, and that was taken
  apart         INTEGER NOT NULL                -- moves that did not begin where the dog stood: kept, not followed
) STRICT;

-- A form posted twice answers as it did the first time.
CREATE TABLE form_keys (
  key    TEXT PRIMARY KEY,
  result TEXT NOT NULL,
  made   INTEGER NOT NULL
) STRICT;
