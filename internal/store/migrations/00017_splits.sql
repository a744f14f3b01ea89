-- +goose Up
-- How many splits had been taken since the reached step became that: in all, and when a trial was logged. Derived anew by the fold.
ALTER TABLE standings ADD COLUMN splits INTEGER NOT NULL DEFAULT 0;
ALTER TABLE trials ADD COLUMN splits INTEGER NOT NULL DEFAULT 0;
