-- +goose Up
-- The half step that was split off below the reached one, where sessions open until it has led back up; derived anew by the fold.
ALTER TABLE standings ADD COLUMN half TEXT NOT NULL DEFAULT '';
