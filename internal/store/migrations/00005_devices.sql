-- +goose Up
-- Passwords, for where the server is reached from other machines than its own.
CREATE TABLE logins (
  person TEXT PRIMARY KEY REFERENCES people (id),
  hash   TEXT NOT NULL,                -- bcrypt
  made   INTEGER NOT NULL
) STRICT;

-- Phones and other machines that were let in; their cookie is kept as its SHA-256.
CREATE TABLE devices (
  id      TEXT PRIMARY KEY,
  person  TEXT NOT NULL REFERENCES people (id),
  token   BLOB NOT NULL UNIQUE,
  name    TEXT NOT NULL,
  made    INTEGER NOT NULL,
  revoked INTEGER
) STRICT;

-- Codes by which a device is let in once; kept as their SHA-256.
CREATE TABLE pairings (
  code    BLOB PRIMARY KEY,
  person  TEXT NOT NULL REFERENCES people (id),
  expires INTEGER NOT NULL
) STRICT;
