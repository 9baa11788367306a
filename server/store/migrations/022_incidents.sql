-- +goose Up
-- What was wrong with machines by what they reported.
CREATE TABLE incidents (
  id      TEXT PRIMARY KEY,
  asset   TEXT NOT NULL,
  rule    TEXT NOT NULL,
  since   TEXT NOT NULL,
  ended   TEXT NOT NULL, -- '' while it is wrong
  waits   INTEGER NOT NULL -- whether somebody at the office is to look at it
) WITHOUT ROWID;
CREATE INDEX incidents_asset ON incidents (asset, since);
CREATE INDEX incidents_open ON incidents (ended) WHERE ended = '';
CREATE INDEX incidents_waiting ON incidents (since) WHERE waits = 1;
-- Who may send signals: beside the log, since keys are no part of it.
CREATE TABLE signal_sources (
  id    TEXT PRIMARY KEY,
  name  TEXT NOT NULL,
  sites TEXT NOT NULL, -- JSON: ids of the sites whose machines it may report of
  hash  BLOB NOT NULL UNIQUE,
  made  TEXT NOT NULL,
  by    TEXT NOT NULL,
  ended TEXT NOT NULL DEFAULT ''
) WITHOUT ROWID;

-- +goose Down
SELECT 1;
