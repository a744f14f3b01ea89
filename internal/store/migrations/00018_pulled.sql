-- +goose Up
-- Whether the dog pulled away: rules read it, beside its measures. Derived anew by the fold.
ALTER TABLE trials ADD COLUMN pulled INTEGER NOT NULL DEFAULT 0;
