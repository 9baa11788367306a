-- +goose Up
-- Whom a visit was offered to, and who helps on it: it is on their devices too.
CREATE TABLE visit_people (
  person TEXT NOT NULL,
  visit  TEXT NOT NULL,
  PRIMARY KEY (person, visit)
) WITHOUT ROWID;
CREATE INDEX visit_people_visit ON visit_people (visit);

-- How people identify themselves at a shared terminal. badge is what their badge says; pin is argon2id.
CREATE TABLE badges (
  person TEXT PRIMARY KEY,
  number TEXT NOT NULL UNIQUE,
  badge  TEXT NOT NULL UNIQUE,
  pin    TEXT NOT NULL DEFAULT '',
  tries  INTEGER NOT NULL DEFAULT 0 -- wrong ones since the last right one
) WITHOUT ROWID;

-- Messages to customers, by the entry that says so: waiting, sent, or late when what they say was over before they could go.
CREATE TABLE messages (
  entry TEXT PRIMARY KEY,
  visit TEXT NOT NULL,
  state TEXT NOT NULL DEFAULT 'waiting',
  at    TEXT NOT NULL DEFAULT ''
) WITHOUT ROWID;
CREATE INDEX messages_waiting ON messages (state) WHERE state = 'waiting';

-- What the simulated gateway and the simulated accounting were given. They stand for services elsewhere.
CREATE TABLE gateway (
  id      INTEGER PRIMARY KEY,
  entry   TEXT NOT NULL UNIQUE,
  visit   TEXT NOT NULL,
  "to"    TEXT NOT NULL,
  text    TEXT NOT NULL,
  at      TEXT NOT NULL
);
CREATE TABLE accounting (
  id      TEXT PRIMARY KEY, -- of the line: what is sent twice is booked once
  body    BLOB NOT NULL,
  booked  TEXT NOT NULL
) WITHOUT ROWID;

-- +goose Down
SELECT 1;
