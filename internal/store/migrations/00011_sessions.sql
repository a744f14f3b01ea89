-- +goose Up
-- The plan that was worked as a session ended, how often the dog growled or snapped in a block, and by what a late trial was late (the
-- new fold fills these in); and how a practice describes the five states: a JSON list, "" for the usual words.
ALTER TABLE sessions ADD COLUMN last_plan TEXT NOT NULL DEFAULT '';
ALTER TABLE blocks ADD COLUMN growls INTEGER NOT NULL DEFAULT 0;
ALTER TABLE trials ADD COLUMN slow INTEGER NOT NULL DEFAULT 0;
ALTER TABLE trials ADD COLUMN again INTEGER NOT NULL DEFAULT 0;
ALTER TABLE practice ADD COLUMN states TEXT NOT NULL DEFAULT '[]';
