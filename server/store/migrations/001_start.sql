-- +goose Up
CREATE TABLE entries (
  seq          INTEGER PRIMARY KEY AUTOINCREMENT,
  id           TEXT NOT NULL UNIQUE,
  kind         TEXT NOT NULL,
  v            INTEGER NOT NULL,
  at           TEXT NOT NULL,
  actor        TEXT NOT NULL,
  replica      TEXT NOT NULL,
  n            INTEGER NOT NULL,
  subject_type TEXT NOT NULL,
  subject_id   TEXT NOT NULL,
  body         BLOB,
  base         BLOB,
  received     TEXT NOT NULL
);
CREATE INDEX entries_subject ON entries (subject_type, subject_id, seq);

CREATE TABLE docs (
  type TEXT NOT NULL,
  id   TEXT NOT NULL,
  rev  INTEGER NOT NULL,
  body BLOB NOT NULL,
  PRIMARY KEY (type, id)
) WITHOUT ROWID;
CREATE INDEX docs_type_rev ON docs (type, rev);

-- Tables for questions, written with the documents they are read from.
CREATE TABLE visits (
  id         TEXT PRIMARY KEY,
  workorder  TEXT NOT NULL,
  technician TEXT NOT NULL,
  day        TEXT NOT NULL, -- of the planned start, on the company's clock
  start      TEXT NOT NULL,
  stage      TEXT NOT NULL,
  shown      INTEGER NOT NULL, -- whether its technician sees it
  ended      TEXT NOT NULL DEFAULT ''
) WITHOUT ROWID;
CREATE INDEX visits_technician_day ON visits (technician, day);
CREATE INDEX visits_day ON visits (day);
CREATE INDEX visits_stage_ended ON visits (stage, ended);
CREATE INDEX visits_workorder ON visits (workorder);

CREATE TABLE workorders (
  id       TEXT PRIMARY KEY,
  number   INTEGER NOT NULL,
  priority TEXT NOT NULL,
  opened   TEXT NOT NULL,
  promise  TEXT NOT NULL DEFAULT ''
) WITHOUT ROWID;
CREATE INDEX workorders_number ON workorders (number);

CREATE TABLE assets_by_site (
  site  TEXT NOT NULL,
  asset TEXT NOT NULL,
  PRIMARY KEY (site, asset)
) WITHOUT ROWID;

CREATE INDEX docs_customer ON docs (body ->> '$.customer') WHERE type = 'site';

CREATE TABLE search (
  type TEXT NOT NULL,
  id   TEXT NOT NULL,
  text TEXT NOT NULL, -- lower case, without accents
  PRIMARY KEY (type, id)
) WITHOUT ROWID;

CREATE TABLE flags (
  id           INTEGER PRIMARY KEY,
  entry        TEXT NOT NULL,
  code         TEXT NOT NULL,
  args         TEXT NOT NULL,
  person       TEXT NOT NULL,
  subject_type TEXT NOT NULL,
  subject_id   TEXT NOT NULL,
  at           TEXT NOT NULL
);
CREATE INDEX flags_subject ON flags (subject_type, subject_id);

-- Entries that wait for a person. What arrived is kept as it came.
CREATE TABLE held (
  id       INTEGER PRIMARY KEY,
  entry    TEXT NOT NULL,
  replica  TEXT NOT NULL,
  person   TEXT NOT NULL,
  raw      BLOB NOT NULL,
  why      TEXT NOT NULL,
  received TEXT NOT NULL,
  state    TEXT NOT NULL DEFAULT 'held', -- held, taken, set_aside
  decided  TEXT NOT NULL DEFAULT '',     -- by whom and when
  UNIQUE (entry, raw)
);
CREATE INDEX held_state ON held (state);

CREATE TABLE devices (
  replica TEXT PRIMARY KEY,
  person  TEXT NOT NULL,
  n       INTEGER NOT NULL DEFAULT 0,
  tick    INTEGER NOT NULL DEFAULT 0,
  contact TEXT NOT NULL DEFAULT '',
  agent   TEXT NOT NULL DEFAULT ''
) WITHOUT ROWID;

-- What each device holds of the documents in its person's scope: the revision it was sent, and in which answer.
-- A revision of -1 says that it was told the document is gone.
CREATE TABLE packs (
  replica TEXT NOT NULL,
  type    TEXT NOT NULL,
  id      TEXT NOT NULL,
  rev     INTEGER NOT NULL,
  tick    INTEGER NOT NULL,
  PRIMARY KEY (replica, type, id)
) WITHOUT ROWID;

CREATE TABLE accounts (
  login  TEXT PRIMARY KEY,
  person TEXT NOT NULL UNIQUE,
  hash   TEXT NOT NULL
) WITHOUT ROWID;

CREATE TABLE sessions (
  token  TEXT PRIMARY KEY,
  data   BLOB NOT NULL,
  expiry REAL NOT NULL
);
CREATE INDEX sessions_expiry ON sessions (expiry);

-- +goose Down
SELECT 1;
