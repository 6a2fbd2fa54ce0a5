-- +goose Up
-- What somebody may do. Who was there first is the owner.
ALTER TABLE person ADD COLUMN role TEXT NOT NULL DEFAULT 'maker' CHECK (role IN ('owner', 'maker', 'helper'));
UPDATE person SET role = 'owner' WHERE id = (SELECT id FROM person ORDER BY active DESC, id LIMIT 1);

-- How somebody showed that it is she who records this, where that was asked for.
CREATE TABLE entry_signed (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  how      TEXT NOT NULL CHECK (how IN ('pin', 'passphrase'))
) STRICT;

-- +goose StatementBegin
CREATE TRIGGER entry_signed_keep_u BEFORE UPDATE ON entry_signed BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER entry_signed_keep_d BEFORE DELETE ON entry_signed BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
