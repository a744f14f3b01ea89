-- +goose Up
-- What a dog works for.
CREATE TABLE rewards (
  id        TEXT PRIMARY KEY,
  dog       TEXT NOT NULL REFERENCES dogs (id),
  name      TEXT NOT NULL,
  kind      TEXT NOT NULL,                       -- food, lasting, toy, play, praise, freedom, wanted
  grams     REAL NOT NULL DEFAULT 0,             -- of a piece
  kcal      REAL NOT NULL DEFAULT 0,             -- of a piece, or of a filling that lasts
  contains  TEXT NOT NULL DEFAULT '[]',          -- JSON list of ingredients
  not_at    TEXT NOT NULL DEFAULT '[]',          -- JSON list of places where it is not used
  note      TEXT NOT NULL DEFAULT '',
  tier      INTEGER NOT NULL DEFAULT 0,          -- 1…5 set by hand, 0 goes by the test
  tested    INTEGER NOT NULL DEFAULT 0,          -- 1…5 by the last test, 0 none
  tested_lo INTEGER NOT NULL DEFAULT 0,
  tested_hi INTEGER NOT NULL DEFAULT 0,
  tested_on TEXT NOT NULL DEFAULT '',            -- YYYY-MM-DD
  version   INTEGER NOT NULL DEFAULT 1,
  made      INTEGER NOT NULL,
  deleted   INTEGER
) STRICT;
CREATE INDEX rewards_of_dog ON rewards (dog);

-- What a reward is worth on one day, where that differs: 0 is not used on that day.
CREATE TABLE reward_days (
  reward TEXT NOT NULL REFERENCES rewards (id),
  day    TEXT NOT NULL,
  tier   INTEGER NOT NULL,
  PRIMARY KEY (reward, day)
) STRICT;
CREATE INDEX reward_days_of_day ON reward_days (day);

-- A preference test: which of two a dog takes, pair by pair.
CREATE TABLE tests (
  id      TEXT PRIMARY KEY,
  dog     TEXT NOT NULL REFERENCES dogs (id),
  rewards TEXT NOT NULL,                         -- JSON list of ids, in the order of their numbers
  seed    INTEGER NOT NULL,
  day     TEXT NOT NULL,
  made    INTEGER NOT NULL,
  done    INTEGER,                               -- its tiers were taken
  deleted INTEGER
) STRICT;
CREATE INDEX tests_of_dog ON tests (dog, made);
CREATE TABLE test_choices (
  test  TEXT NOT NULL REFERENCES tests (id),
  ord   INTEGER NOT NULL,
  left_ TEXT NOT NULL,
  right_ TEXT NOT NULL,
  took  TEXT NOT NULL,                           -- the reward that was taken, '' for neither
  made  INTEGER NOT NULL,
  PRIMARY KEY (test, ord)
) STRICT;

-- How a dog is fed and how it is to be worked; JSON.
ALTER TABLE dogs ADD COLUMN feeding TEXT NOT NULL DEFAULT '{}';
ALTER TABLE dogs ADD COLUMN routine TEXT NOT NULL DEFAULT '{}';

-- What is not used at a place: no_food, no_thrown, no_toys; a JSON list.
ALTER TABLE places ADD COLUMN bans TEXT NOT NULL DEFAULT '[]';

-- When the trainer works; JSON.
ALTER TABLE practice ADD COLUMN hours TEXT NOT NULL DEFAULT '';

-- Food beside sessions: what lasts, good choices that were fed, what a household says.
CREATE TABLE eaten (
  id      TEXT PRIMARY KEY,
  dog     TEXT NOT NULL REFERENCES dogs (id),
  day     TEXT NOT NULL,
  kind    TEXT NOT NULL,                         -- lasting, choice, household, other
  what    TEXT NOT NULL,
  reward  TEXT NOT NULL DEFAULT '',
  from_   INTEGER,                               -- minutes from midnight
  until   INTEGER,
  pieces  INTEGER NOT NULL DEFAULT 0,
  kcal    REAL NOT NULL,
  made    INTEGER NOT NULL,
  deleted INTEGER
) STRICT;
CREATE INDEX eaten_of_dog ON eaten (dog, day);
CREATE INDEX eaten_of_day ON eaten (day);

-- Sessions as they are planned, each in its slot.
CREATE TABLE sheets (
  id        TEXT PRIMARY KEY,
  dog       TEXT NOT NULL REFERENCES dogs (id),
  day       TEXT NOT NULL,
  start     INTEGER NOT NULL,                    -- minutes from midnight, in the practice's zone
  minutes   INTEGER NOT NULL,
  household INTEGER NOT NULL DEFAULT 0,
  place     TEXT NOT NULL DEFAULT '',
  handler   TEXT NOT NULL DEFAULT '',
  body      TEXT NOT NULL,
  version   INTEGER NOT NULL DEFAULT 1,
  made      INTEGER NOT NULL,
  deleted   INTEGER
) STRICT;
CREATE INDEX sheets_by_day ON sheets (day, start);
CREATE INDEX sheets_of_dog ON sheets (dog, day);

-- Derived: the sheet that a session followed, and what was paid in it with what.
ALTER TABLE sessions ADD COLUMN sheet TEXT NOT NULL DEFAULT '';
CREATE INDEX sessions_of_sheet ON sessions (sheet) WHERE sheet <> '';
CREATE TABLE fed (
  session TEXT NOT NULL REFERENCES sessions (id),
  block   TEXT NOT NULL,                         -- '' for the warm-up
  reward  TEXT NOT NULL,                         -- '' where it was not said
  pays    INTEGER NOT NULL,
  pieces  INTEGER NOT NULL,
  PRIMARY KEY (session, block, reward)
) STRICT;

-- How far the thinning of pay has come: one in so many.
ALTER TABLE standings ADD COLUMN rung INTEGER NOT NULL DEFAULT 1;
