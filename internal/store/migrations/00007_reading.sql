-- +goose Up
-- A session that cannot be read is set aside: why, '' for one that can.
ALTER TABLE sessions ADD COLUMN unread TEXT NOT NULL DEFAULT '';
-- How far its derived rows have read, by device: the highest number of its events. JSON.
ALTER TABLE sessions ADD COLUMN read_to TEXT NOT NULL DEFAULT '{}';

-- Events that a session is read without, because it cannot be read with them. The events themselves stay.
CREATE TABLE left_out (
  event   BLOB PRIMARY KEY,
  session TEXT NOT NULL REFERENCES sessions (id)
) STRICT;
CREATE INDEX left_out_of ON left_out (session);

-- Which plans a session has blocks of, from the moment such a block is stored.
CREATE TABLE session_plans (
  plan    TEXT NOT NULL,
  session TEXT NOT NULL,
  PRIMARY KEY (plan, session)
) STRICT, WITHOUT ROWID;
CREATE INDEX plans_of_session ON session_plans (session);
INSERT OR IGNORE INTO session_plans (plan, session)
  SELECT json_extract(data, '$.plan'), session FROM events
  WHERE kind = 'block' AND json_valid(data) AND json_type(data, '$.plan') = 'text';

-- Plans whose standing is behind their sessions' rows; why is '' while that is only waiting to be worked out.
CREATE TABLE plans_behind (
  plan TEXT PRIMARY KEY,
  why  TEXT NOT NULL DEFAULT ''
) STRICT, WITHOUT ROWID;

-- What a form said that was posted under a key: the same key with other content is another form.
ALTER TABLE form_keys ADD COLUMN content BLOB;

-- What is read next: what has new events, then what an older fold read, dog by dog.
DROP INDEX sessions_stale;
CREATE INDEX sessions_stale ON sessions (fold, dog, opened) WHERE stale = 1;
CREATE INDEX sessions_unread ON sessions (opened) WHERE unread <> '';
