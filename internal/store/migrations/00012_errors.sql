-- +goose Up
-- Trials that were right only after the help which their step plans; the highest arousal noted in a block, -1 where none was; how many
-- of its pays were the distraction itself; how often a cue was withheld; how ready the
-- dog was by its test before the session, a JSON object or nothing; and how many decoys there were, and from how many of them the dog withdrew. The new fold fills them in.
ALTER TABLE trials ADD COLUMN assisted INTEGER NOT NULL DEFAULT 0;
ALTER TABLE blocks ADD COLUMN arousal INTEGER NOT NULL DEFAULT -1;
ALTER TABLE blocks ADD COLUMN life INTEGER NOT NULL DEFAULT 0;
ALTER TABLE blocks ADD COLUMN withheld INTEGER NOT NULL DEFAULT 0;
ALTER TABLE sessions ADD COLUMN ready TEXT NOT NULL DEFAULT '';
ALTER TABLE blocks ADD COLUMN decoys INTEGER NOT NULL DEFAULT 0;
ALTER TABLE blocks ADD COLUMN shied INTEGER NOT NULL DEFAULT 0;
