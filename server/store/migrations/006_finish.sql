-- +goose Up
-- Where a work order stands over all its visits (work.State), and its site's history.
ALTER TABLE workorders ADD COLUMN state TEXT NOT NULL DEFAULT '';
CREATE INDEX workorders_site ON workorders (site);

-- What a finished visit still waits for: a signature, or an answer to the office's question.
ALTER TABLE visits ADD COLUMN unsigned INTEGER NOT NULL DEFAULT 0;
ALTER TABLE visits ADD COLUMN asked INTEGER NOT NULL DEFAULT 0;
-- What the visit means to its work order (work.Trip).
ALTER TABLE visits ADD COLUMN trip TEXT NOT NULL DEFAULT '{}';
CREATE INDEX visits_unsigned ON visits (ended) WHERE unsigned;

-- Visits that ended, by site: what whoever comes next is told of. rev is that of the visit, and ended is '' once the end was struck out.
CREATE TABLE history (
  site  TEXT NOT NULL,
  visit TEXT NOT NULL PRIMARY KEY,
  ended TEXT NOT NULL, -- UTC
  rev   INTEGER NOT NULL,
  body  BLOB NOT NULL  -- view.EarlierVisit
);
CREATE INDEX history_site ON history (site, rev);
CREATE INDEX history_ended ON history (site, ended);

-- Service reports, by the entry that made each.
CREATE TABLE reports (
  entry  TEXT PRIMARY KEY,
  visit  TEXT NOT NULL,
  code   TEXT NOT NULL,
  pdf    TEXT NOT NULL, -- SHA-256 of it
  struck INTEGER NOT NULL
) WITHOUT ROWID;
CREATE INDEX reports_code ON reports (code);
CREATE INDEX reports_pdf ON reports (pdf);
CREATE INDEX reports_visit ON reports (visit);

-- Conversations about work orders: when somebody last said something, and how much the office has not read.
CREATE TABLE talks (
  workorder TEXT PRIMARY KEY,
  at        TEXT NOT NULL, -- UTC
  unread    INTEGER NOT NULL
) WITHOUT ROWID;
CREATE INDEX talks_at ON talks (unread, at);

-- The report that goes with a message that the simulated gateway was given, and how many bytes of it.
ALTER TABLE gateway ADD COLUMN report TEXT NOT NULL DEFAULT '';
ALTER TABLE gateway ADD COLUMN bytes INTEGER NOT NULL DEFAULT 0;

-- +goose Down
SELECT 1;
