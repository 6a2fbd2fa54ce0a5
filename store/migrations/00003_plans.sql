-- +goose Up
-- What the shop weighs on and how it fills, by habit.
ALTER TABLE shop ADD COLUMN fine_step REAL NOT NULL DEFAULT 0 CHECK (fine_step >= 0);
ALTER TABLE shop ADD COLUMN fine_max REAL NOT NULL DEFAULT 0 CHECK (fine_max >= 0);
ALTER TABLE shop ADD COLUMN fill_rule TEXT NOT NULL DEFAULT 'computed';
ALTER TABLE shop ADD COLUMN pot_loss REAL NOT NULL DEFAULT 1 CHECK (pot_loss >= 0);
ALTER TABLE shop ADD COLUMN risky_load REAL NOT NULL DEFAULT 60 CHECK (risky_load > 0 AND risky_load <= 100);

CREATE INDEX lot_by_recipe ON lot (recipe_id, id);

-- Pots, jugs, cookers and cutters.
CREATE TABLE equipment (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id)
) STRICT;

CREATE TABLE equipment_revision (
  entry_id     INTEGER PRIMARY KEY REFERENCES entry (id),
  equipment_id INTEGER NOT NULL REFERENCES equipment (id),
  number       INTEGER NOT NULL CHECK (number > 0),
  name         TEXT NOT NULL CHECK (trim(name) <> ''),
  body         TEXT NOT NULL CHECK (json_valid(body)),
  UNIQUE (equipment_id, number)
) STRICT;

-- The day a kept plan is meant for and its turn in that day. The newest word
-- counts; an empty day takes the plan off its day.
CREATE TABLE plan_day (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  plan_id  INTEGER NOT NULL REFERENCES plan (id),
  day      TEXT NOT NULL CHECK (day = '' OR day GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9]'),
  turn     INTEGER NOT NULL CHECK (turn >= 0)
) STRICT;
CREATE INDEX plan_day_by_plan ON plan_day (plan_id, entry_id);
CREATE INDEX plan_day_by_day ON plan_day (day);

-- How full a mold came, which teaches it; forgotten = 1 starts anew.
CREATE TABLE mold_pour (
  entry_id   INTEGER PRIMARY KEY REFERENCES entry (id),
  mold_id    INTEGER NOT NULL REFERENCES mold (id),
  lot_id     INTEGER REFERENCES lot (id),
  correction REAL NOT NULL CHECK (correction > 0),
  off_mm     REAL NOT NULL,
  left_share REAL NOT NULL CHECK (left_share >= 0 AND left_share < 1),
  forgotten  INTEGER NOT NULL CHECK (forgotten IN (0, 1))
) STRICT;
CREATE INDEX mold_pour_by_mold ON mold_pour (mold_id, entry_id);

-- +goose StatementBegin
CREATE TRIGGER equipment_keep_u BEFORE UPDATE ON equipment BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER equipment_keep_d BEFORE DELETE ON equipment BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER equipment_revision_keep_u BEFORE UPDATE ON equipment_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER equipment_revision_keep_d BEFORE DELETE ON equipment_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER plan_day_keep_u BEFORE UPDATE ON plan_day BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER plan_day_keep_d BEFORE DELETE ON plan_day BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER mold_pour_keep_u BEFORE UPDATE ON mold_pour BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER mold_pour_keep_d BEFORE DELETE ON mold_pour BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
