-- +goose Up
ALTER TABLE shop ADD COLUMN room_c REAL NOT NULL DEFAULT 20;

-- Containers of lye stock and of blended fats. The body is what it was made of.
CREATE TABLE stock (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id),
  number   INTEGER NOT NULL UNIQUE CHECK (number > 0),
  code     TEXT NOT NULL UNIQUE,
  kind     TEXT NOT NULL CHECK (kind IN ('naoh', 'koh', 'fats')),
  body     TEXT NOT NULL CHECK (json_valid(body))
) STRICT;

-- What went in and out, in milligrams.
CREATE TABLE stock_move (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  stock_id INTEGER NOT NULL REFERENCES stock (id),
  what     TEXT NOT NULL CHECK (what IN ('made', 'draw', 'count', 'water', 'away')),
  change   INTEGER NOT NULL,
  lot_id   INTEGER REFERENCES lot (id),
  note     TEXT NOT NULL,
  CHECK (what <> 'made' OR change > 0)
) STRICT;
CREATE INDEX stock_move_by_stock ON stock_move (stock_id, entry_id);

-- What became known of a container: a strength, a temperature, a state. What a
-- row does not say is NULL, and the newest word of each kind counts.
CREATE TABLE stock_word (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  stock_id INTEGER NOT NULL REFERENCES stock (id),
  strength REAL CHECK (strength > 0),
  celsius  REAL,
  status   TEXT CHECK (status IN ('open', 'quarantine', 'gone')),
  how      TEXT NOT NULL,
  why      TEXT NOT NULL
) STRICT;
CREATE INDEX stock_word_by_stock ON stock_word (stock_id, entry_id);

-- What is in it: the sum of the moves, changed in the same transaction.
CREATE TABLE stock_balance (
  stock_id INTEGER PRIMARY KEY REFERENCES stock (id),
  mg       INTEGER NOT NULL CHECK (mg >= 0)
) STRICT;

-- How a pot cooled: the clock that its readings told, beside the usual one.
CREATE TABLE cooling (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  tool_id  INTEGER REFERENCES equipment (id),
  stands   TEXT NOT NULL,
  fats     INTEGER NOT NULL CHECK (fats IN (0, 1)),
  usual    REAL NOT NULL CHECK (usual > 0),
  learned  REAL NOT NULL CHECK (learned > 0)
) STRICT;

-- +goose StatementBegin
CREATE TRIGGER stock_keep_u BEFORE UPDATE ON stock BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER stock_keep_d BEFORE DELETE ON stock BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER stock_move_keep_u BEFORE UPDATE ON stock_move BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER stock_move_keep_d BEFORE DELETE ON stock_move BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER stock_word_keep_u BEFORE UPDATE ON stock_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER stock_word_keep_d BEFORE DELETE ON stock_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cooling_keep_u BEFORE UPDATE ON cooling BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cooling_keep_d BEFORE DELETE ON cooling BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
