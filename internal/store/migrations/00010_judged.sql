-- +goose Up
-- By which judgement a trial was judged (0 is the first), whether it was void once the cue was given, and whether it lacks a measure
-- that its step names. The new fold fills them in.
ALTER TABLE trials ADD COLUMN judge INTEGER NOT NULL DEFAULT 0;
ALTER TABLE trials ADD COLUMN after_cue INTEGER NOT NULL DEFAULT 0;
ALTER TABLE trials ADD COLUMN unmeasured INTEGER NOT NULL DEFAULT 0;
