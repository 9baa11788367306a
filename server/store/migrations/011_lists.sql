-- +goose Up
-- What lists show, sort and filter by stands in a row of its own table, names of other records too: a hundred thousand rows are sorted
-- without looking up a name for each.
ALTER TABLE workorders ADD COLUMN label TEXT NOT NULL DEFAULT ''; -- the number as it is written
ALTER TABLE workorders ADD COLUMN problem TEXT NOT NULL DEFAULT '';
ALTER TABLE workorders ADD COLUMN kind TEXT NOT NULL DEFAULT '';
ALTER TABLE workorders ADD COLUMN urgency TEXT NOT NULL DEFAULT '';
ALTER TABLE workorders ADD COLUMN asset TEXT NOT NULL DEFAULT '';
ALTER TABLE workorders ADD COLUMN theirs TEXT NOT NULL DEFAULT '';
ALTER TABLE workorders ADD COLUMN responsible TEXT NOT NULL DEFAULT '';
ALTER TABLE workorders ADD COLUMN minutes INTEGER NOT NULL DEFAULT 0;
ALTER TABLE workorders ADD COLUMN visits INTEGER NOT NULL DEFAULT 0; -- how many it has had
ALTER TABLE workorders ADD COLUMN opened_day TEXT NOT NULL DEFAULT ''; -- 2006-01-02, on the clock of whoever opened it
ALTER TABLE workorders ADD COLUMN promise_day TEXT NOT NULL DEFAULT '';
ALTER TABLE workorders ADD COLUMN customer_name TEXT NOT NULL DEFAULT '';
ALTER TABLE workorders ADD COLUMN site_name TEXT NOT NULL DEFAULT '';
ALTER TABLE workorders ADD COLUMN asset_name TEXT NOT NULL DEFAULT '';
ALTER TABLE workorders ADD COLUMN text TEXT NOT NULL DEFAULT ''; -- as in found

ALTER TABLE visits ADD COLUMN minutes INTEGER NOT NULL DEFAULT 0; -- planned
ALTER TABLE visits ADD COLUMN ended_day TEXT NOT NULL DEFAULT '';
-- Of its work order.
ALTER TABLE visits ADD COLUMN number INTEGER NOT NULL DEFAULT 0;
ALTER TABLE visits ADD COLUMN label TEXT NOT NULL DEFAULT '';
ALTER TABLE visits ADD COLUMN problem TEXT NOT NULL DEFAULT '';
ALTER TABLE visits ADD COLUMN kind TEXT NOT NULL DEFAULT '';
ALTER TABLE visits ADD COLUMN priority TEXT NOT NULL DEFAULT '';
ALTER TABLE visits ADD COLUMN customer TEXT NOT NULL DEFAULT '';
ALTER TABLE visits ADD COLUMN customer_name TEXT NOT NULL DEFAULT '';
ALTER TABLE visits ADD COLUMN site TEXT NOT NULL DEFAULT '';
ALTER TABLE visits ADD COLUMN site_name TEXT NOT NULL DEFAULT '';
CREATE INDEX visits_start ON visits (start);

CREATE TABLE customers (
  id      TEXT PRIMARY KEY,
  name    TEXT NOT NULL,
  address TEXT NOT NULL,
  contact TEXT NOT NULL,
  phone   TEXT NOT NULL
) WITHOUT ROWID;

CREATE TABLE sites (
  id            TEXT PRIMARY KEY,
  name          TEXT NOT NULL,
  customer      TEXT NOT NULL,
  customer_name TEXT NOT NULL,
  address       TEXT NOT NULL,
  contact       TEXT NOT NULL,
  phone         TEXT NOT NULL,
  hazard        TEXT NOT NULL,
  placed        INTEGER NOT NULL -- whether it has a place on the map
) WITHOUT ROWID;

CREATE TABLE assets (
  id            TEXT PRIMARY KEY,
  name          TEXT NOT NULL,
  kind          TEXT NOT NULL,
  kind_name     TEXT NOT NULL,
  maker         TEXT NOT NULL,
  serial        TEXT NOT NULL,
  site          TEXT NOT NULL,
  site_name     TEXT NOT NULL,
  customer      TEXT NOT NULL,
  customer_name TEXT NOT NULL,
  installed     TEXT NOT NULL,
  warranty      TEXT NOT NULL,
  removed       TEXT NOT NULL
) WITHOUT ROWID;

CREATE TABLE people (
  id    TEXT PRIMARY KEY,
  name  TEXT NOT NULL,
  short TEXT NOT NULL,
  roles TEXT NOT NULL, -- with commas between
  phone TEXT NOT NULL
) WITHOUT ROWID;

CREATE TABLE parts (
  id       TEXT PRIMARY KEY,
  number   TEXT NOT NULL,
  name     TEXT NOT NULL,
  category TEXT NOT NULL,
  unit     TEXT NOT NULL,
  price    TEXT NOT NULL, -- decimal
  supplier TEXT NOT NULL,
  retired  INTEGER NOT NULL
) WITHOUT ROWID;
CREATE INDEX assets_site ON assets (site);
CREATE INDEX assets_kind ON assets (kind);
CREATE INDEX sites_customer ON sites (customer);
CREATE INDEX workorders_asset ON workorders (asset) WHERE asset <> '';
CREATE INDEX workorders_opened ON workorders (opened_day);
-- Orders have their machine in their row.
DROP INDEX docs_order_asset;
