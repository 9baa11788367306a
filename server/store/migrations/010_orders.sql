-- +goose Up
-- What is found by words: a line for each record that somebody may look for. The fold writes it, and what follows keeps the indexes in step.
DROP TABLE search;
CREATE TABLE found (
  row    INTEGER PRIMARY KEY,
  type   TEXT NOT NULL,
  id     TEXT NOT NULL,
  owner  TEXT NOT NULL, -- the record that it hangs on, type/id; '' when it is one itself
  title  TEXT NOT NULL,
  detail TEXT NOT NULL,
  text   TEXT NOT NULL, -- folded words, a space between them
  at     TEXT NOT NULL, -- when it came up, UTC; '' where that says nothing
  tag    TEXT NOT NULL, -- the type as it is in the index of parts: three capitals, which no text has
  UNIQUE (type, id)
);
CREATE INDEX found_owner ON found (owner) WHERE owner <> '';
-- Whole words and their beginnings, and any three letters in a row.
CREATE VIRTUAL TABLE found_words USING fts5 (type, text, content = '', contentless_delete = 1, prefix = '1 2', tokenize = 'unicode61');
CREATE VIRTUAL TABLE found_parts USING fts5 (tag, text, content = '', contentless_delete = 1, tokenize = 'trigram case_sensitive 1');
CREATE VIRTUAL TABLE found_vocabulary USING fts5vocab (found_words, 'col');
-- +goose StatementBegin
CREATE TRIGGER found_in AFTER INSERT ON found BEGIN
  INSERT INTO found_words (rowid, type, text) VALUES (new.row, new.type, new.text);
  INSERT INTO found_parts (rowid, tag, text) VALUES (new.row, new.tag, new.text);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER found_out AFTER DELETE ON found BEGIN
  DELETE FROM found_words WHERE rowid = old.row;
  DELETE FROM found_parts WHERE rowid = old.row;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER found_anew AFTER UPDATE OF text ON found WHEN old.text <> new.text BEGIN
  DELETE FROM found_words WHERE rowid = old.row;
  DELETE FROM found_parts WHERE rowid = old.row;
  INSERT INTO found_words (rowid, type, text) VALUES (new.row, new.type, new.text);
  INSERT INTO found_parts (rowid, tag, text) VALUES (new.row, new.tag, new.text);
END;
-- +goose StatementEnd

-- The day on which an order on hold comes back for planning, 2006-01-02; '' when it is not on hold.
ALTER TABLE workorders ADD COLUMN held TEXT NOT NULL DEFAULT '';

CREATE INDEX workorders_customer ON workorders (customer);
CREATE INDEX docs_order_asset ON docs (body ->> '$.asset') WHERE type = 'workorder';
