-- +goose Up
-- How many proof rounds were over before the stretch, by step, criteria and definition, as a JSON object: proof goes by points in
-- rounds. Where dogs stand is worked out anew.
ALTER TABLE standings ADD COLUMN rounds TEXT NOT NULL DEFAULT 'null';
INSERT INTO plans_behind (plan) SELECT id FROM plans WHERE true ON CONFLICT DO NOTHING;
