-- +goose Up
-- Who brought an entry that did not come from its actor's own device: the person who took in a file, or who decided on a held entry.
ALTER TABLE entries ADD COLUMN brought TEXT NOT NULL DEFAULT '';
-- The digest of the office's command that an entry was made of: the same command sent again is known by it.
ALTER TABLE entries ADD COLUMN asked TEXT NOT NULL DEFAULT '';
ALTER TABLE held ADD COLUMN brought TEXT NOT NULL DEFAULT ''; -- the person who took in the file it came in
CREATE INDEX held_person ON held (person, state);

-- The public key of a device (SPKI, base64), made at its first sign-in: it signs files of unsent work.
ALTER TABLE devices ADD COLUMN key TEXT NOT NULL DEFAULT '';

-- When an account was disabled, and how often what signs it in has changed: sessions of before are over.
ALTER TABLE accounts ADD COLUMN disabled TEXT NOT NULL DEFAULT '';
ALTER TABLE accounts ADD COLUMN epoch INTEGER NOT NULL DEFAULT 0;

-- Secrets of the program's own, by name, and whether the folder is a demo's (name 'demo').
CREATE TABLE program (
  name  TEXT PRIMARY KEY,
  value BLOB NOT NULL
) WITHOUT ROWID;

-- Which documents an entry mentioned a file about, by the file's hash: whoever may see one of them may see the file.
CREATE TABLE mentions (
  hash TEXT NOT NULL,
  type TEXT NOT NULL,
  id   TEXT NOT NULL,
  PRIMARY KEY (hash, type, id)
) WITHOUT ROWID;

-- What a person's devices brought in a day (UTC), in bytes of files.
CREATE TABLE brought_bytes (
  person TEXT NOT NULL,
  day    TEXT NOT NULL,
  bytes  INTEGER NOT NULL,
  PRIMARY KEY (person, day)
) WITHOUT ROWID;

-- +goose Down
SELECT 1;
