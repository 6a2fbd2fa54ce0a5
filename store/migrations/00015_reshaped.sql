-- +goose Up
-- What becomes of soap after the cut, short of being sold: bars and end pieces diced into scraps,
-- trimmings shaved into petals or pressed into balls, and those cut up again.
CREATE TABLE reshaped (
  entry_id  INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id    INTEGER NOT NULL REFERENCES lot (id),
  source    TEXT NOT NULL CHECK (source IN ('bars', 'ends', 'scraps', 'petals', 'balls')),
  size      TEXT NOT NULL DEFAULT '',  -- of bars
  grade     TEXT NOT NULL DEFAULT '',  -- of bars
  pieces    INTEGER NOT NULL CHECK (pieces >= 0), -- that were taken; 0 of scraps
  shape     TEXT NOT NULL CHECK (shape IN ('scraps', 'petals', 'balls') AND shape <> source),
  made      INTEGER NOT NULL CHECK (made >= 0), -- pieces; 0 of scraps
  weight_mg INTEGER NOT NULL CHECK (weight_mg > 0),
  note      TEXT NOT NULL DEFAULT '',
  CHECK ((source = 'bars') = (grade <> '')),
  CHECK (source <> 'bars' OR pieces > 0)
) STRICT;
CREATE INDEX reshaped_lot ON reshaped (lot_id);

-- +goose StatementBegin
CREATE TRIGGER reshaped_keep_u BEFORE UPDATE ON reshaped BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER reshaped_keep_d BEFORE DELETE ON reshaped BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
