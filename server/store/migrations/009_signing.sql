-- +goose Up
-- The time cards of those who were on a visit, which whoever has it signed for needs: a list of ids in JSON. The fold writes them.
ALTER TABLE history ADD COLUMN cards TEXT NOT NULL DEFAULT '[]';
