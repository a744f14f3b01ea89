-- +goose Up
-- Derived: the class in whose meeting a session was worked, and the signs that were seen of the dog there and stand.
ALTER TABLE sessions ADD COLUMN class TEXT NOT NULL DEFAULT '';
ALTER TABLE sessions ADD COLUMN signs TEXT NOT NULL DEFAULT '[]'; -- a JSON list
CREATE INDEX sessions_of_class ON sessions (class, day) WHERE class <> '';
