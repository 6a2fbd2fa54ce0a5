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

-- Whether the newest weighing of the marked bar lay outside of where earlier lots of
-- the recipe were by then.
ALTER TABLE lot_state ADD COLUMN odd INTEGER NOT NULL DEFAULT 0 CHECK (odd IN (0, 1));

-- Bars of other sizes than the usual one of their lot, counted by size and grade.
CREATE TABLE cut_size (
  entry_id INTEGER NOT NULL REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  size     TEXT NOT NULL CHECK (trim(size) <> ''),
  bar_mg   INTEGER NOT NULL CHECK (bar_mg >= 0),
  first    INTEGER NOT NULL CHECK (first >= 0),
  second   INTEGER NOT NULL CHECK (second >= 0),
  tester   INTEGER NOT NULL CHECK (tester >= 0),
  scrap    INTEGER NOT NULL CHECK (scrap >= 0),
  PRIMARY KEY (entry_id, size)
) STRICT;
CREATE INDEX cut_size_lot ON cut_size (lot_id);
ALTER TABLE bar_move ADD COLUMN size TEXT NOT NULL DEFAULT '';
CREATE TABLE bar_balance_by_size (
  lot_id INTEGER NOT NULL REFERENCES lot (id),
  size   TEXT NOT NULL, -- empty for the usual bar
  grade  TEXT NOT NULL CHECK (grade IN ('first', 'second', 'tester')),
  bars   INTEGER NOT NULL CHECK (bars >= 0),
  PRIMARY KEY (lot_id, size, grade)
) STRICT, WITHOUT ROWID;
INSERT INTO bar_balance_by_size (lot_id, size, grade, bars) SELECT lot_id, '', grade, bars FROM bar_balance;
DROP TABLE bar_balance;
ALTER TABLE bar_balance_by_size RENAME TO bar_balance;
-- +goose StatementBegin
CREATE TRIGGER cut_size_keep_u BEFORE UPDATE ON cut_size BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cut_size_keep_d BEFORE DELETE ON cut_size BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
