-- +goose Up
-- A dog's health, as the practice was told of it: never advice.
CREATE TABLE health (
  id      TEXT PRIMARY KEY,
  dog     TEXT NOT NULL REFERENCES dogs (id),
  kind    TEXT NOT NULL,                    -- 'weight', 'sore', 'medicine', 'seen' or 'other'
  day     TEXT NOT NULL,                    -- YYYY-MM-DD in the practice's zone: of it, or its first
  kg      REAL,                             -- of a weight
  what    TEXT NOT NULL DEFAULT '',         -- where it is sore, or what the medicine is called
  said    TEXT NOT NULL DEFAULT '',         -- what was said, and by whom
  over    TEXT NOT NULL DEFAULT '',         -- its last day, '' while it goes on
  made    INTEGER NOT NULL,
  deleted INTEGER
) STRICT;
CREATE INDEX health_of ON health (dog, kind);
-- Whom to call for a dog, and whether it may be photographed.
CREATE TABLE contacts (
  dog       TEXT PRIMARY KEY REFERENCES dogs (id),
  vet       TEXT NOT NULL DEFAULT '',
  emergency TEXT NOT NULL DEFAULT '',
  photos    TEXT NOT NULL DEFAULT '',       -- '', 'yes' or 'no'
  agreed    TEXT NOT NULL DEFAULT '',       -- who said so, and when
  version   INTEGER NOT NULL DEFAULT 1
) STRICT;
