-- +goose Up
-- What a dog's people are told of a week of its training, as the trainer left it.
CREATE TABLE recaps (
  dog     TEXT NOT NULL REFERENCES dogs (id),
  day     TEXT NOT NULL,                    -- YYYY-MM-DD, the last of the week
  praise  TEXT NOT NULL,
  line    TEXT NOT NULL,                    -- from the trainer
  skills  TEXT NOT NULL,                    -- JSON: {plan: what is said of it, "" for nothing}
  version INTEGER NOT NULL DEFAULT 1,
  made    INTEGER NOT NULL,
  made_by TEXT NOT NULL,
  PRIMARY KEY (dog, day)
) STRICT;
