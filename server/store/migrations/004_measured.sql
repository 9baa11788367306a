-- +goose Up
-- What was measured, for an asset's page and for exports.
CREATE TABLE readings (
  entry TEXT PRIMARY KEY,
  visit TEXT NOT NULL,
  asset TEXT NOT NULL,
  point TEXT NOT NULL,
  at    TEXT NOT NULL, -- UTC
  body  BLOB NOT NULL  -- reading.Reading
) WITHOUT ROWID;
CREATE INDEX readings_asset ON readings (asset, at);
CREATE INDEX readings_visit ON readings (visit);
INSERT INTO readings SELECT r.value ->> '$.entry', d.id, r.value ->> '$.asset', r.value ->> '$.point', strftime('%Y-%m-%dT%H:%M:%SZ', r.value ->> '$.at'), r.value
  FROM docs d, json_each(d.body, '$.readings') r WHERE d.type = 'visit' AND r.value ->> '$.struck' IS NOT 1;

-- What on visits wants the office's attention.
CREATE TABLE attention (
  visit   TEXT NOT NULL,
  key     TEXT NOT NULL,
  concern TEXT NOT NULL,
  at      TEXT NOT NULL, -- UTC
  handled INTEGER NOT NULL,
  body    BLOB NOT NULL, -- work.Attention
  PRIMARY KEY (visit, key)
) WITHOUT ROWID;
CREATE INDEX attention_open ON attention (handled, at);

-- +goose Down
SELECT 1;
