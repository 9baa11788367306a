-- +goose Up
-- What turned out to be another record.
CREATE INDEX docs_merged ON docs (type, body ->> '$.merged') WHERE body ->> '$.merged' IS NOT NULL;

-- +goose Down
SELECT 1;
