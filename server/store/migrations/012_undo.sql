-- +goose Up
-- What those at the office did last, with the commands that take it back.
CREATE TABLE undoable (
  id       TEXT PRIMARY KEY, -- of the first entry
  person   TEXT NOT NULL,
  seq      INTEGER NOT NULL, -- of the last entry
  kind     TEXT NOT NULL, -- of the last entry
  type     TEXT NOT NULL, -- its subject
  subject  TEXT NOT NULL,
  entries  TEXT NOT NULL, -- their ids, as JSON
  commands TEXT NOT NULL, -- as JSON; [] when nothing takes it back
  undone   TEXT NOT NULL -- the ids of the entries that took it back, as JSON; [] when it was not
) WITHOUT ROWID;
CREATE INDEX undoable_person ON undoable (person, seq);
