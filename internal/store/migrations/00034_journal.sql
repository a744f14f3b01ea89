-- +goose Up
-- Who changed what, and when: triggers write it (journal.go), and like the log it is only ever added to.
CREATE TABLE journal (
  pos    INTEGER PRIMARY KEY,
  deed   INTEGER,                          -- the first pos of what was changed at once
  at     INTEGER,                          -- UTC Unix ms
  person TEXT,                             -- who did it, '' for the program; NULL until the transaction is committed
  dog    TEXT NOT NULL,                    -- '' where it concerns none
  what   TEXT NOT NULL,                    -- the table, or what else it was
  id     TEXT NOT NULL,                    -- of the row
  was    TEXT,                             -- JSON: the row before, NULL where it was added
  became TEXT                              -- JSON: the row after, NULL where it was removed
) STRICT;
CREATE INDEX journal_deeds ON journal (deed);
CREATE INDEX journal_by_time ON journal (at, deed);
CREATE INDEX journal_of_dog ON journal (dog, at, deed) WHERE dog <> '';
CREATE INDEX journal_unsigned ON journal (pos) WHERE person IS NULL;
-- +goose StatementBegin
CREATE TRIGGER journal_is_never_changed BEFORE UPDATE ON journal WHEN OLD.person IS NOT NULL
BEGIN SELECT RAISE(ABORT, 'the journal is only ever added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER journal_is_never_deleted BEFORE DELETE ON journal
BEGIN SELECT RAISE(ABORT, 'the journal is only ever added to'); END;
-- +goose StatementEnd
