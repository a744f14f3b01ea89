-- +goose Up
-- The letters whose lines wait to be entered: Today counts them, and a letter's file is not read for that.
CREATE INDEX letters_waiting ON letters (dog) WHERE box = 'in' AND homework = 1 AND entered IS NULL;
