-- +goose Up
-- Instants are Unix milliseconds in UTC. Weights in ledgers are milligrams.

CREATE TABLE person (
  id       INTEGER PRIMARY KEY,
  name     TEXT NOT NULL UNIQUE COLLATE NOCASE CHECK (trim(name) <> ''),
  active   INTEGER NOT NULL DEFAULT 1 CHECK (active IN (0, 1))
) STRICT;

CREATE TABLE device (
  id         INTEGER PRIMARY KEY,
  token      TEXT NOT NULL UNIQUE,
  label      TEXT NOT NULL,
  first_seen INTEGER NOT NULL
) STRICT;

-- The head of everything that happened.
CREATE TABLE entry (
  id          INTEGER PRIMARY KEY AUTOINCREMENT,
  kind        TEXT NOT NULL,
  occurred_at INTEGER NOT NULL,
  recorded_at INTEGER NOT NULL,
  person_id   INTEGER REFERENCES person (id),
  device_id   INTEGER NOT NULL REFERENCES device (id),
  corrects_id INTEGER UNIQUE REFERENCES entry (id),
  reason      TEXT NOT NULL DEFAULT '',
  CHECK (person_id IS NOT NULL OR kind = 'shop'),
  CHECK (corrects_id IS NULL OR trim(reason) <> '')
) STRICT;

-- A page sends each change with a key; the second arrival of a key records nothing.
CREATE TABLE request_key (
  key         TEXT PRIMARY KEY,
  fingerprint TEXT NOT NULL,
  ref         TEXT NOT NULL,
  at          INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE shop (
  entry_id   INTEGER PRIMARY KEY REFERENCES entry (id),
  name       TEXT NOT NULL CHECK (trim(name) <> ''),
  zone       TEXT NOT NULL,
  units      TEXT NOT NULL CHECK (units IN ('metric', 'us')),
  currency   TEXT NOT NULL,
  emergency  TEXT NOT NULL,
  scale_step REAL NOT NULL CHECK (scale_step > 0),
  demo       INTEGER NOT NULL CHECK (demo IN (0, 1))
) STRICT;

CREATE TABLE recipe (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id),
  parent   INTEGER REFERENCES recipe (id)
) STRICT;

CREATE TABLE recipe_revision (
  entry_id  INTEGER PRIMARY KEY REFERENCES entry (id),
  recipe_id INTEGER NOT NULL REFERENCES recipe (id),
  number    INTEGER NOT NULL CHECK (number > 0),
  name      TEXT NOT NULL CHECK (trim(name) <> ''),
  note      TEXT NOT NULL,
  body      TEXT NOT NULL CHECK (json_valid(body)),
  UNIQUE (recipe_id, number)
) STRICT;

CREATE TABLE mold (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id)
) STRICT;

CREATE TABLE mold_revision (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  mold_id  INTEGER NOT NULL REFERENCES mold (id),
  number   INTEGER NOT NULL CHECK (number > 0),
  name     TEXT NOT NULL CHECK (trim(name) <> ''),
  body     TEXT NOT NULL CHECK (json_valid(body)),
  UNIQUE (mold_id, number)
) STRICT;

-- What is being typed: the form as it stands, sound or not. Not a record.
CREATE TABLE working_copy (
  kind       TEXT NOT NULL,
  ref        TEXT NOT NULL,
  form       TEXT NOT NULL,
  base       INTEGER NOT NULL,
  tab        TEXT NOT NULL,
  device_id  INTEGER NOT NULL REFERENCES device (id),
  updated_at INTEGER NOT NULL,
  PRIMARY KEY (kind, ref)
) STRICT, WITHOUT ROWID;

CREATE TABLE plan (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL UNIQUE REFERENCES entry (id),
  revision INTEGER NOT NULL REFERENCES recipe_revision (entry_id),
  body     TEXT NOT NULL CHECK (json_valid(body))
) STRICT;

CREATE TABLE lot (
  id        INTEGER PRIMARY KEY,
  oid       TEXT NOT NULL UNIQUE,
  number    INTEGER NOT NULL UNIQUE CHECK (number > 0),
  code      TEXT NOT NULL UNIQUE,
  entry_id  INTEGER NOT NULL REFERENCES entry (id),
  plan_id   INTEGER NOT NULL REFERENCES plan (id),
  recipe_id INTEGER NOT NULL REFERENCES recipe (id),
  pot       INTEGER NOT NULL CHECK (pot > 0),
  frozen    TEXT NOT NULL CHECK (json_valid(frozen)),
  UNIQUE (plan_id, pot)
) STRICT;

-- What follows from the records of a lot, changed in the transaction that adds one.
CREATE TABLE lot_state (
  lot_id     INTEGER PRIMARY KEY REFERENCES lot (id),
  stage      TEXT NOT NULL,
  last_entry INTEGER NOT NULL REFERENCES entry (id)
) STRICT;
CREATE INDEX lot_state_stage ON lot_state (stage);

CREATE TABLE weighing (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  item     TEXT NOT NULL,
  target   INTEGER NOT NULL CHECK (target >= 0),
  actual   INTEGER NOT NULL CHECK (actual >= 0)
) STRICT;
CREATE INDEX weighing_lot ON weighing (lot_id);

CREATE TABLE pour (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL UNIQUE REFERENCES lot (id),
  lye_c    REAL,
  fats_c   REAL,
  room_c   REAL,
  trace    TEXT NOT NULL,
  left_mg  INTEGER NOT NULL CHECK (left_mg >= 0),
  skipped  TEXT NOT NULL,
  note     TEXT NOT NULL
) STRICT;

CREATE TABLE unmolding (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL UNIQUE REFERENCES lot (id),
  gel      TEXT NOT NULL,
  note     TEXT NOT NULL
) STRICT;

CREATE TABLE cut (
  entry_id     INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id       INTEGER NOT NULL UNIQUE REFERENCES lot (id),
  first        INTEGER NOT NULL CHECK (first >= 0),
  second       INTEGER NOT NULL CHECK (second >= 0),
  tester       INTEGER NOT NULL CHECK (tester >= 0),
  scrap        INTEGER NOT NULL CHECK (scrap >= 0),
  bar_mg       INTEGER NOT NULL CHECK (bar_mg >= 0),
  trimmings_mg INTEGER NOT NULL CHECK (trimmings_mg >= 0),
  note         TEXT NOT NULL
) STRICT;

CREATE TABLE sample_weight (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  weight   INTEGER NOT NULL CHECK (weight > 0)
) STRICT;
CREATE INDEX sample_weight_lot ON sample_weight (lot_id);

CREATE TABLE safety_check (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  method   TEXT NOT NULL CHECK (method IN ('zap', 'ph')),
  ph       REAL,
  pass     INTEGER NOT NULL CHECK (pass IN (0, 1)),
  note     TEXT NOT NULL
) STRICT;
CREATE INDEX safety_check_lot ON safety_check (lot_id);

CREATE TABLE hold (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  held     INTEGER NOT NULL CHECK (held IN (0, 1)),
  why      TEXT NOT NULL CHECK (trim(why) <> '')
) STRICT;
CREATE INDEX hold_lot ON hold (lot_id);

CREATE TABLE release (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL UNIQUE REFERENCES lot (id),
  early    TEXT NOT NULL
) STRICT;

CREATE TABLE bar_move (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  grade    TEXT NOT NULL CHECK (grade IN ('first', 'second', 'tester')),
  reason   TEXT NOT NULL CHECK (reason IN ('sold', 'gift', 'tester', 'spoiled', 'returned', 'recount')),
  change   INTEGER NOT NULL,
  note     TEXT NOT NULL
) STRICT;
CREATE INDEX bar_move_lot ON bar_move (lot_id);

-- Bars that are there: the cut plus the moves, changed in the same transaction.
CREATE TABLE bar_balance (
  lot_id INTEGER NOT NULL REFERENCES lot (id),
  grade  TEXT NOT NULL CHECK (grade IN ('first', 'second', 'tester')),
  bars   INTEGER NOT NULL CHECK (bars >= 0),
  PRIMARY KEY (lot_id, grade)
) STRICT, WITHOUT ROWID;

CREATE TABLE lot_note (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  kind     TEXT NOT NULL CHECK (kind IN ('note', 'incident', 'abandoned')),
  text     TEXT NOT NULL CHECK (trim(text) <> '')
) STRICT;
CREATE INDEX lot_note_lot ON lot_note (lot_id);

-- Every table of what happened refuses to be changed or thinned out.
-- +goose StatementBegin
CREATE TRIGGER entry_keep_u BEFORE UPDATE ON entry BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER entry_keep_d BEFORE DELETE ON entry BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER request_key_keep_u BEFORE UPDATE ON request_key BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER request_key_keep_d BEFORE DELETE ON request_key BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER shop_keep_u BEFORE UPDATE ON shop BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER shop_keep_d BEFORE DELETE ON shop BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER recipe_keep_u BEFORE UPDATE ON recipe BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER recipe_keep_d BEFORE DELETE ON recipe BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER recipe_revision_keep_u BEFORE UPDATE ON recipe_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER recipe_revision_keep_d BEFORE DELETE ON recipe_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER mold_keep_u BEFORE UPDATE ON mold BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER mold_keep_d BEFORE DELETE ON mold BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER mold_revision_keep_u BEFORE UPDATE ON mold_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER mold_revision_keep_d BEFORE DELETE ON mold_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER plan_keep_u BEFORE UPDATE ON plan BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER plan_keep_d BEFORE DELETE ON plan BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_keep_u BEFORE UPDATE ON lot BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_keep_d BEFORE DELETE ON lot BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER weighing_keep_u BEFORE UPDATE ON weighing BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER weighing_keep_d BEFORE DELETE ON weighing BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER pour_keep_u BEFORE UPDATE ON pour BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER pour_keep_d BEFORE DELETE ON pour BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER unmolding_keep_u BEFORE UPDATE ON unmolding BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER unmolding_keep_d BEFORE DELETE ON unmolding BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cut_keep_u BEFORE UPDATE ON cut BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cut_keep_d BEFORE DELETE ON cut BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sample_weight_keep_u BEFORE UPDATE ON sample_weight BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sample_weight_keep_d BEFORE DELETE ON sample_weight BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER safety_check_keep_u BEFORE UPDATE ON safety_check BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER safety_check_keep_d BEFORE DELETE ON safety_check BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER hold_keep_u BEFORE UPDATE ON hold BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER hold_keep_d BEFORE DELETE ON hold BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER release_keep_u BEFORE UPDATE ON release BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER release_keep_d BEFORE DELETE ON release BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bar_move_keep_u BEFORE UPDATE ON bar_move BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bar_move_keep_d BEFORE DELETE ON bar_move BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_note_keep_u BEFORE UPDATE ON lot_note BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_note_keep_d BEFORE DELETE ON lot_note BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
