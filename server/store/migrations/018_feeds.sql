-- +goose Up
-- Whoever knows the secret of a feed reads somebody's plan as a calendar. Of the secret only its hash is kept.
CREATE TABLE feeds (
  person TEXT PRIMARY KEY,
  hash   BLOB NOT NULL UNIQUE,
  made   TEXT NOT NULL
);

-- +goose Down
DROP TABLE feeds;
