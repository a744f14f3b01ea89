-- +goose Up
-- A task of care can be changed: by whoever saw it as it is.
ALTER TABLE care_tasks ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
