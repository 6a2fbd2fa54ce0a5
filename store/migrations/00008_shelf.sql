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

-- The racks of the room.
CREATE TABLE rack (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id)
) STRICT;

CREATE TABLE rack_revision (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  rack_id  INTEGER NOT NULL REFERENCES rack (id),
  number   INTEGER NOT NULL CHECK (number > 0),
  name     TEXT NOT NULL CHECK (trim(name) <> ''),
  body     TEXT NOT NULL CHECK (json_valid(body)),
  UNIQUE (rack_id, number)
) STRICT;

-- Where a lot stands: a rack by its identity, and a level, 0 the lowest. The
-- newest counts; an empty rack takes it off its place.
CREATE TABLE lot_place (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  rack     TEXT NOT NULL,
  level    INTEGER NOT NULL CHECK (level >= 0)
) STRICT;
CREATE INDEX lot_place_lot ON lot_place (lot_id);

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
-- +goose StatementBegin
CREATE TRIGGER rack_keep_u BEFORE UPDATE ON rack BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER rack_keep_d BEFORE DELETE ON rack BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER rack_revision_keep_u BEFORE UPDATE ON rack_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER rack_revision_keep_d BEFORE DELETE ON rack_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_place_keep_u BEFORE UPDATE ON lot_place BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_place_keep_d BEFORE DELETE ON lot_place BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
