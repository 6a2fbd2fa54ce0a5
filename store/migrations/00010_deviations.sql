-- +goose Up
-- What was done otherwise than it should be, with the maker's reason.
CREATE TABLE lot_deviation (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  act      TEXT NOT NULL CHECK (trim(act) <> ''),
  what     TEXT NOT NULL CHECK (trim(what) <> ''),
  why      TEXT NOT NULL CHECK (trim(why) <> '')
) STRICT;
CREATE INDEX lot_deviation_lot ON lot_deviation (lot_id);
-- +goose StatementBegin
CREATE TRIGGER lot_deviation_keep_u BEFORE UPDATE ON lot_deviation BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_deviation_keep_d BEFORE DELETE ON lot_deviation BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd

-- When the shop was walked with a clock of its own: from which moment, in
-- milliseconds, and at which moment by the machine.
CREATE TABLE moved_clock (
  id      INTEGER PRIMARY KEY,
  moment  INTEGER NOT NULL,
  machine INTEGER NOT NULL
) STRICT;
