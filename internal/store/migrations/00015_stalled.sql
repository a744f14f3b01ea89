-- +goose Up
-- For how many sessions a dog has come to no step that was higher than any before; derived anew by the fold.
ALTER TABLE standings ADD COLUMN stalled INTEGER NOT NULL DEFAULT 0;
