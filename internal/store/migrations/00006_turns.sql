-- +goose Up
-- A block of another dog than the session was opened with.
ALTER TABLE blocks ADD COLUMN guest INTEGER NOT NULL DEFAULT 0;
CREATE INDEX blocks_guests ON blocks (dog) WHERE guest = 1;
-- What kinds of work beside cues and holds are measured by: JSON, '' for none.
ALTER TABLE trials ADD COLUMN measures TEXT NOT NULL DEFAULT '';
