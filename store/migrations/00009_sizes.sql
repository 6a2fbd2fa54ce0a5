-- +goose Up
-- Lots are found by the names of their recipe's revisions, and by those of their
-- ingredients, which are gone along in order.
DELETE FROM lot_material WHERE item = 'recipe';
CREATE INDEX lot_material_name ON lot_material (name, lot_id);
CREATE INDEX lot_search ON lot (recipe_id, code, entry_id);

-- What must not stand beside what on the racks. The newest counts.
CREATE TABLE rack_rules (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  body     TEXT NOT NULL CHECK (json_valid(body))
) STRICT;
-- +goose StatementBegin
CREATE TRIGGER rack_rules_keep_u BEFORE UPDATE ON rack_rules BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER rack_rules_keep_d BEFORE DELETE ON rack_rules BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
