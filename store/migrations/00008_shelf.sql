-- +goose Up
-- A bar that is washed with, to see how the lather comes on; figures from 0 to 4.
CREATE TABLE lot_wash (
  entry_id   INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id     INTEGER NOT NULL REFERENCES lot (id),
  volume     INTEGER NOT NULL CHECK (volume BETWEEN 0 AND 4),
  creaminess INTEGER NOT NULL CHECK (creaminess BETWEEN 0 AND 4),
  slime      INTEGER NOT NULL CHECK (slime BETWEEN 0 AND 4),
  scent      INTEGER NOT NULL CHECK (scent BETWEEN 0 AND 4),
  against    TEXT NOT NULL,
  note       TEXT NOT NULL
) STRICT;
CREATE INDEX lot_wash_lot ON lot_wash (lot_id);

-- What else a cut gave, and who finishes it.
CREATE TABLE cut_more (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  ends     INTEGER NOT NULL CHECK (ends >= 0),
  ends_mg  INTEGER NOT NULL CHECK (ends_mg >= 0),
  halves   INTEGER NOT NULL CHECK (halves >= 0),
  finish   TEXT NOT NULL
) STRICT;
CREATE INDEX cut_more_lot ON cut_more (lot_id);

-- +goose StatementBegin
CREATE TRIGGER lot_wash_keep_u BEFORE UPDATE ON lot_wash BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_wash_keep_d BEFORE DELETE ON lot_wash BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cut_more_keep_u BEFORE UPDATE ON cut_more BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cut_more_keep_d BEFORE DELETE ON cut_more BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
