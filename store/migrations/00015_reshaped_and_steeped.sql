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

-- An infusion as a work of its own: a jar of oil on a herb, and what happens to it.
CREATE TABLE infusion (
  id       INTEGER PRIMARY KEY,
  oid      TEXT    NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id),
  fat      TEXT    NOT NULL,
  name     TEXT    NOT NULL CHECK (trim(name) <> ''),
  herb     TEXT    NOT NULL CHECK (trim(herb) <> ''),
  oil_mg   INTEGER NOT NULL CHECK (oil_mg > 0),
  herb_mg  INTEGER NOT NULL CHECK (herb_mg > 0),
  hours    REAL    NOT NULL CHECK (hours > 0),
  warm     INTEGER NOT NULL CHECK (warm IN (0, 1)),
  note     TEXT    NOT NULL DEFAULT ''
) STRICT;

CREATE TABLE infusion_event (
  entry_id    INTEGER PRIMARY KEY REFERENCES entry (id),
  infusion_id INTEGER NOT NULL REFERENCES infusion (id),
  what        TEXT    NOT NULL CHECK (what IN ('stirred', 'strained', 'topped-up', 'used', 'discarded')),
  weight_mg   INTEGER NOT NULL DEFAULT 0, -- below zero is what was poured back of what was used
  lot_id      INTEGER REFERENCES lot (id),
  note        TEXT    NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX infusion_event_by_infusion ON infusion_event (infusion_id, entry_id);
CREATE INDEX infusion_event_by_lot ON infusion_event (lot_id) WHERE lot_id IS NOT NULL;

-- +goose StatementBegin
CREATE TRIGGER infusion_keep_u BEFORE UPDATE ON infusion BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER infusion_keep_d BEFORE DELETE ON infusion BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER infusion_event_keep_u BEFORE UPDATE ON infusion_event BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER infusion_event_keep_d BEFORE DELETE ON infusion_event BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
