-- +goose Up
-- An ingredient lot: one delivery of one ingredient. Stock levels are not kept
-- here. Its figures are those of its certificate, NULL where there is none.
CREATE TABLE ingredient_lot (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id),
  item     TEXT NOT NULL CHECK (trim(item) <> ''),
  name     TEXT NOT NULL,
  supplier TEXT NOT NULL,
  code     TEXT NOT NULL,
  received TEXT NOT NULL CHECK (received = '' OR received GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9]'),
  purity   REAL CHECK (purity > 0 AND purity <= 100),
  sap      REAL CHECK (sap > 0),
  CHECK (trim(supplier || code) <> '')
) STRICT;
CREATE INDEX ingredient_lot_by_item ON ingredient_lot (item, id);

-- A weighing may be one of several pours, or what was weighed back (below zero);
-- it says how it was read and which ingredient lot it came from.
CREATE TABLE weighing_more (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  item     TEXT NOT NULL,
  target   INTEGER NOT NULL CHECK (target >= 0),
  actual   INTEGER NOT NULL,
  how      TEXT NOT NULL CHECK (how IN ('typed', 'scale', 'paper')),
  reading  INTEGER NOT NULL DEFAULT 0,
  from_id  INTEGER REFERENCES ingredient_lot (id),
  CHECK ((how = 'scale') = (reading > 0))
) STRICT;
INSERT INTO weighing_more (entry_id, lot_id, item, target, actual, how) SELECT entry_id, lot_id, item, target, actual, 'typed' FROM weighing;
DROP TABLE weighing;
ALTER TABLE weighing_more RENAME TO weighing;
CREATE INDEX weighing_lot ON weighing (lot_id);
CREATE INDEX weighing_from ON weighing (from_id);

-- Steps of the run sheet: done, left out with a note, or taken back (done = 0).
-- The newest word on a step counts.
CREATE TABLE run_tick (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  step     TEXT NOT NULL CHECK (trim(step) <> ''),
  done     INTEGER NOT NULL CHECK (done IN (0, 1)),
  note     TEXT NOT NULL,
  trace    TEXT NOT NULL,
  minutes  REAL NOT NULL CHECK (minutes >= 0)
) STRICT;
CREATE INDEX run_tick_lot ON run_tick (lot_id);

CREATE TABLE run_temperature (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  pot      TEXT NOT NULL CHECK (pot IN ('liquid', 'lye', 'fats', 'room')),
  celsius  REAL NOT NULL,
  how      TEXT NOT NULL CHECK (how IN ('typed', 'scale', 'paper'))
) STRICT;
CREATE INDEX run_temperature_lot ON run_temperature (lot_id);

-- All that is not weighed yet made larger or smaller. The body is the sheet and
-- the pot as they were worked out then.
CREATE TABLE run_rescale (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  factor   REAL NOT NULL CHECK (factor > 0),
  because  TEXT NOT NULL,
  body     TEXT NOT NULL CHECK (json_valid(body))
) STRICT;
CREATE INDEX run_rescale_lot ON run_rescale (lot_id);

CREATE TABLE run_extra (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  name     TEXT NOT NULL CHECK (trim(name) <> ''),
  weight   INTEGER NOT NULL CHECK (weight > 0),
  sap      REAL NOT NULL CHECK (sap >= 0)
) STRICT;
CREATE INDEX run_extra_lot ON run_extra (lot_id);

CREATE TABLE run_scent (
  entry_id  INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id    INTEGER NOT NULL REFERENCES lot (id),
  scent     TEXT NOT NULL CHECK (trim(scent) <> ''),
  behaviour TEXT NOT NULL CHECK (trim(behaviour) <> ''),
  note      TEXT NOT NULL
) STRICT;
CREATE INDEX run_scent_lot ON run_scent (lot_id);

-- A photo is a file named by its content; the row is written after the file.
CREATE TABLE photo (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  file     TEXT NOT NULL CHECK (trim(file) <> ''),
  width    INTEGER NOT NULL CHECK (width > 0),
  height   INTEGER NOT NULL CHECK (height > 0),
  caption  TEXT NOT NULL
) STRICT;
CREATE INDEX photo_lot ON photo (lot_id);
CREATE INDEX photo_file ON photo (file);

-- The device that writes a run. The newest row counts.
CREATE TABLE run_writer (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id)
) STRICT;
CREATE INDEX run_writer_lot ON run_writer (lot_id);

CREATE INDEX working_copy_ref ON working_copy (ref);

-- Where the scale and the thermometer are found, host:port; empty for none.
ALTER TABLE shop ADD COLUMN scale_at TEXT NOT NULL DEFAULT '';
ALTER TABLE shop ADD COLUMN probe_at TEXT NOT NULL DEFAULT '';

-- +goose StatementBegin
CREATE TRIGGER weighing_keep_u BEFORE UPDATE ON weighing BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER weighing_keep_d BEFORE DELETE ON weighing BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER ingredient_lot_keep_u BEFORE UPDATE ON ingredient_lot BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER ingredient_lot_keep_d BEFORE DELETE ON ingredient_lot BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER run_tick_keep_u BEFORE UPDATE ON run_tick BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER run_tick_keep_d BEFORE DELETE ON run_tick BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER run_temperature_keep_u BEFORE UPDATE ON run_temperature BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER run_temperature_keep_d BEFORE DELETE ON run_temperature BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER run_rescale_keep_u BEFORE UPDATE ON run_rescale BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER run_rescale_keep_d BEFORE DELETE ON run_rescale BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER run_extra_keep_u BEFORE UPDATE ON run_extra BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER run_extra_keep_d BEFORE DELETE ON run_extra BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER run_scent_keep_u BEFORE UPDATE ON run_scent BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER run_scent_keep_d BEFORE DELETE ON run_scent BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER photo_keep_u BEFORE UPDATE ON photo BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER photo_keep_d BEFORE DELETE ON photo BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER run_writer_keep_u BEFORE UPDATE ON run_writer BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER run_writer_keep_d BEFORE DELETE ON run_writer BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
