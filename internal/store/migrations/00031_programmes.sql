-- +goose Up
-- Programmes of the practice's own, beside those that ship with the program.
CREATE TABLE programmes (
  id      TEXT PRIMARY KEY,
  body    TEXT NOT NULL,                    -- JSON, a programme with the steps of its aims
  made    INTEGER NOT NULL,
  made_by TEXT NOT NULL,
  version INTEGER NOT NULL DEFAULT 1,
  deleted INTEGER
) STRICT;
