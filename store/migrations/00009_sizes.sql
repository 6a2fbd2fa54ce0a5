-- +goose Up
-- Lots are found by the names of their recipe's revisions, and by those of their
-- ingredients, which are gone along in order.
DELETE FROM lot_material WHERE item = 'recipe';
CREATE INDEX lot_material_name ON lot_material (name, lot_id);
CREATE INDEX lot_search ON lot (recipe_id, code, entry_id);
