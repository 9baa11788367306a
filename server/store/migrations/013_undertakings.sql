-- +goose Up
-- What a work order is part of; '' of one that stands alone.
ALTER TABLE workorders ADD COLUMN undertaking TEXT NOT NULL DEFAULT '';
CREATE INDEX workorders_undertaking ON workorders (undertaking, opened) WHERE undertaking > '';
