-- +goose Up
-- Whose practice it is: they let people and devices in, and keep the copies.
ALTER TABLE people ADD COLUMN owner INTEGER NOT NULL DEFAULT 0;
UPDATE people SET owner = 1 WHERE id IN (SELECT person FROM practice);
