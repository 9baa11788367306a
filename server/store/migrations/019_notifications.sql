-- +goose Up
-- What somebody knows of a visit of theirs: that it begins then, since they saw it on a device, or since they were notified.
CREATE TABLE visits_known (
  person       TEXT NOT NULL,
  visit        TEXT NOT NULL,
  start        TEXT NOT NULL,
  seen         TEXT NOT NULL DEFAULT '', -- when they looked at it
  notification TEXT NOT NULL DEFAULT '', -- that told them
  PRIMARY KEY (person, visit)
) WITHOUT ROWID;
CREATE INDEX visits_known_visit ON visits_known (visit);

-- Where a browser is reached that is closed (RFC 8030), and the keys that what is sent there is locked with (RFC 8291).
CREATE TABLE push_addresses (
  endpoint TEXT PRIMARY KEY,
  person   TEXT NOT NULL,
  replica  TEXT NOT NULL,
  auth     TEXT NOT NULL,
  p256dh   TEXT NOT NULL,
  made     TEXT NOT NULL
) WITHOUT ROWID;

-- What technicians are told beside their devices. Those that wait are sent in order.
CREATE TABLE notifications (
  id     TEXT PRIMARY KEY,
  person TEXT NOT NULL,
  way    TEXT NOT NULL, -- push, text, mail
  title  TEXT NOT NULL,
  text   TEXT NOT NULL,
  visit  TEXT NOT NULL DEFAULT '', -- that it opens
  paper  TEXT NOT NULL DEFAULT '', -- what goes with it as PDF: a work order as order/ID, somebody's day as day/2006-01-02
  made   TEXT NOT NULL,
  state  TEXT NOT NULL DEFAULT 'waiting', -- or sent, failed
  at     TEXT NOT NULL DEFAULT ''
) WITHOUT ROWID;
CREATE INDEX notifications_waiting ON notifications (id) WHERE state = 'waiting';

-- +goose Down
DROP TABLE notifications;
DROP TABLE push_addresses;
DROP TABLE visits_known;
