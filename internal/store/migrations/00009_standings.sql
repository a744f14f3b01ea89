-- +goose Up
-- Where dogs stand is worked out otherwise now: on the ladder as it was, and since a session without trials too.
INSERT INTO plans_behind (plan) SELECT id FROM plans WHERE true ON CONFLICT DO NOTHING;
