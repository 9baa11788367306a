-- +goose Up
-- Messages are about visits, and about work orders.
ALTER TABLE messages RENAME COLUMN visit TO about;
ALTER TABLE messages ADD COLUMN type TEXT NOT NULL DEFAULT 'visit';
ALTER TABLE gateway RENAME COLUMN visit TO about;
ALTER TABLE gateway ADD COLUMN type TEXT NOT NULL DEFAULT 'visit';

-- +goose Down
SELECT 1;
