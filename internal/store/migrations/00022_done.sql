-- +goose Up
-- What a task is done within: touches of that skill that were really done count as times of it.
ALTER TABLE care_tasks ADD COLUMN skill TEXT NOT NULL DEFAULT '';
CREATE INDEX trials_done ON trials (plan) WHERE instr(measures, '"done":true') > 0;
