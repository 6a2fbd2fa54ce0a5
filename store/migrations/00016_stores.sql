-- +goose Up
-- How the shop reckons what things cost: an hour of work in minor units (0 for none), whether the tax on what is
-- bought comes back, and what freight is shared by.
ALTER TABLE shop ADD COLUMN hour_rate INTEGER NOT NULL DEFAULT 0 CHECK (hour_rate >= 0);
ALTER TABLE shop ADD COLUMN tax_back INTEGER NOT NULL DEFAULT 0 CHECK (tax_back IN (0, 1));
ALTER TABLE shop ADD COLUMN freight_by TEXT NOT NULL DEFAULT '' CHECK (freight_by IN ('', 'weight', 'price'));

-- What the shop buys: fats, alkalis, liquids, additives, colours, scents, packaging, tools that are used up.
CREATE TABLE material (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id)
) STRICT;

CREATE TABLE material_revision (
  entry_id    INTEGER PRIMARY KEY REFERENCES entry (id),
  material_id INTEGER NOT NULL REFERENCES material (id),
  number      INTEGER NOT NULL CHECK (number > 0),
  name        TEXT NOT NULL CHECK (trim(name) <> ''),
  body        TEXT NOT NULL CHECK (json_valid(body)),
  UNIQUE (material_id, number)
) STRICT;

-- An order to a supplier. The body is its lines; the newest word on it counts.
CREATE TABLE supply_order (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id),
  number   INTEGER NOT NULL UNIQUE CHECK (number > 0),
  supplier TEXT NOT NULL CHECK (trim(supplier) <> ''),
  body     TEXT NOT NULL CHECK (json_valid(body))
) STRICT;

CREATE TABLE supply_order_word (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  order_id INTEGER NOT NULL REFERENCES supply_order (id),
  what     TEXT NOT NULL CHECK (what IN ('sent', 'closed', 'withdrawn')),
  note     TEXT NOT NULL
) STRICT;
CREATE INDEX supply_order_word_by_order ON supply_order_word (order_id, entry_id);

-- An ingredient lot that is in the books: how much came, in milligrams or pieces. One that was only named at the
-- bench has no such row, and no balance.
CREATE TABLE delivery (
  entry_id    INTEGER PRIMARY KEY REFERENCES entry (id),
  delivery_id INTEGER NOT NULL UNIQUE REFERENCES ingredient_lot (id),
  unit        TEXT NOT NULL CHECK (unit IN ('mg', 'piece')),
  quantity    INTEGER NOT NULL CHECK (quantity > 0),
  opening     INTEGER NOT NULL CHECK (opening IN (0, 1)), -- it was there when the books began
  order_id    INTEGER REFERENCES supply_order (id),
  line        INTEGER NOT NULL DEFAULT 0 -- of the order
) STRICT;
CREATE INDEX delivery_by_order ON delivery (order_id) WHERE order_id IS NOT NULL;

-- What it cost in minor units; goods is NULL where that is not known. The newest counts.
CREATE TABLE delivery_price (
  entry_id    INTEGER PRIMARY KEY REFERENCES entry (id),
  delivery_id INTEGER NOT NULL REFERENCES ingredient_lot (id),
  goods       INTEGER CHECK (goods >= 0),
  freight     INTEGER NOT NULL CHECK (freight >= 0),
  tax         INTEGER NOT NULL CHECK (tax >= 0),
  tax_back    INTEGER NOT NULL CHECK (tax_back IN (0, 1)),
  note        TEXT NOT NULL
) STRICT;
CREATE INDEX delivery_price_by_delivery ON delivery_price (delivery_id, entry_id);

-- What became known of it; what a row does not say is NULL, and the newest word of each kind counts.
CREATE TABLE delivery_word (
  entry_id    INTEGER PRIMARY KEY REFERENCES entry (id),
  delivery_id INTEGER NOT NULL REFERENCES ingredient_lot (id),
  best_before TEXT CHECK (best_before = '' OR best_before GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9]'),
  opened      TEXT CHECK (opened = '' OR opened GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9]'),
  status      TEXT CHECK (status IN ('usable', 'blocked', 'doubtful', 'recalled')),
  place       TEXT,
  why         TEXT NOT NULL
) STRICT;
CREATE INDEX delivery_word_by_delivery ON delivery_word (delivery_id, entry_id);

-- What came in and went out, in base units. Of a change, so much carries a cost. A weighing and its move share a head.
CREATE TABLE delivery_move (
  entry_id    INTEGER PRIMARY KEY REFERENCES entry (id),
  delivery_id INTEGER NOT NULL REFERENCES ingredient_lot (id),
  what        TEXT NOT NULL CHECK (what IN ('received', 'weighed', 'filled', 'steeped', 'packed', 'spilled', 'thrown', 'house',
                'damaged', 'returned', 'counted', 'found')),
  change      INTEGER NOT NULL,
  priced      INTEGER NOT NULL CHECK (abs(priced) <= abs(change)),
  lot_id      INTEGER REFERENCES lot (id),
  stock_id    INTEGER REFERENCES stock (id),
  infusion_id INTEGER REFERENCES infusion (id),
  note        TEXT NOT NULL,
  CHECK (what <> 'received' OR change > 0),
  CHECK (what <> 'found' OR change > 0 AND priced = 0)
) STRICT;
CREATE INDEX delivery_move_by_delivery ON delivery_move (delivery_id, entry_id);
CREATE INDEX delivery_move_by_lot ON delivery_move (lot_id) WHERE lot_id IS NOT NULL;
CREATE INDEX delivery_move_by_stock ON delivery_move (stock_id) WHERE stock_id IS NOT NULL;
CREATE INDEX delivery_move_by_infusion ON delivery_move (infusion_id) WHERE infusion_id IS NOT NULL;
CREATE INDEX delivery_move_found ON delivery_move (what, entry_id) WHERE what = 'found';

-- Why the books were short of what a pot took.
CREATE TABLE delivery_reason (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  move_id  INTEGER NOT NULL UNIQUE REFERENCES delivery_move (entry_id),
  why      TEXT NOT NULL CHECK (trim(why) <> '')
) STRICT;

-- What is left: the sum of the moves, changed in the same transaction.
CREATE TABLE delivery_balance (
  delivery_id INTEGER PRIMARY KEY REFERENCES ingredient_lot (id),
  amount      INTEGER NOT NULL CHECK (amount >= 0),
  priced      INTEGER NOT NULL CHECK (priced >= 0 AND priced <= amount)
) STRICT;

-- A certificate or an invoice. A paper is a file named by its content; the row is written after the file.
CREATE TABLE delivery_paper (
  entry_id    INTEGER PRIMARY KEY REFERENCES entry (id),
  delivery_id INTEGER NOT NULL REFERENCES ingredient_lot (id),
  file        TEXT NOT NULL CHECK (trim(file) <> ''),
  name        TEXT NOT NULL
) STRICT;
CREATE INDEX delivery_paper_by_delivery ON delivery_paper (delivery_id);
CREATE INDEX delivery_paper_by_file ON delivery_paper (file);

-- What a lot cost at its release.
CREATE TABLE lot_cost (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL UNIQUE REFERENCES lot (id),
  body     TEXT NOT NULL CHECK (json_valid(body))
) STRICT;

-- Bars that were there when the books began: found by the code that was printed on them, released by somebody's word.
CREATE TABLE opening_lot (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id),
  code     TEXT NOT NULL UNIQUE COLLATE NOCASE CHECK (trim(code) <> ''),
  name     TEXT NOT NULL CHECK (trim(name) <> ''),
  made     TEXT NOT NULL CHECK (made = '' OR made GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9]'),
  ready    TEXT NOT NULL CHECK (ready = '' OR ready GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9]'),
  cost     INTEGER CHECK (cost >= 0), -- of all of it in minor units, NULL when not known
  note     TEXT NOT NULL
) STRICT;

CREATE TABLE opening_release (
  entry_id   INTEGER PRIMARY KEY REFERENCES entry (id),
  opening_id INTEGER NOT NULL UNIQUE REFERENCES opening_lot (id),
  word       TEXT NOT NULL CHECK (trim(word) <> '')
) STRICT;

CREATE TABLE opening_move (
  entry_id   INTEGER PRIMARY KEY REFERENCES entry (id),
  opening_id INTEGER NOT NULL REFERENCES opening_lot (id),
  reason     TEXT NOT NULL CHECK (reason IN ('taken over', 'sold', 'gift', 'tester', 'spoiled', 'returned', 'recount')),
  change     INTEGER NOT NULL,
  note       TEXT NOT NULL
) STRICT;
CREATE INDEX opening_move_by_lot ON opening_move (opening_id, entry_id);

CREATE TABLE opening_balance (
  opening_id INTEGER PRIMARY KEY REFERENCES opening_lot (id),
  bars       INTEGER NOT NULL CHECK (bars >= 0)
) STRICT;

-- +goose StatementBegin
CREATE TRIGGER material_keep_u BEFORE UPDATE ON material BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER material_keep_d BEFORE DELETE ON material BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER material_revision_keep_u BEFORE UPDATE ON material_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER material_revision_keep_d BEFORE DELETE ON material_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER supply_order_keep_u BEFORE UPDATE ON supply_order BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER supply_order_keep_d BEFORE DELETE ON supply_order BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER supply_order_word_keep_u BEFORE UPDATE ON supply_order_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER supply_order_word_keep_d BEFORE DELETE ON supply_order_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_keep_u BEFORE UPDATE ON delivery BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_keep_d BEFORE DELETE ON delivery BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_price_keep_u BEFORE UPDATE ON delivery_price BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_price_keep_d BEFORE DELETE ON delivery_price BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_word_keep_u BEFORE UPDATE ON delivery_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_word_keep_d BEFORE DELETE ON delivery_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_move_keep_u BEFORE UPDATE ON delivery_move BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_move_keep_d BEFORE DELETE ON delivery_move BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_reason_keep_u BEFORE UPDATE ON delivery_reason BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_reason_keep_d BEFORE DELETE ON delivery_reason BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_paper_keep_u BEFORE UPDATE ON delivery_paper BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_paper_keep_d BEFORE DELETE ON delivery_paper BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_cost_keep_u BEFORE UPDATE ON lot_cost BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_cost_keep_d BEFORE DELETE ON lot_cost BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER opening_lot_keep_u BEFORE UPDATE ON opening_lot BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER opening_lot_keep_d BEFORE DELETE ON opening_lot BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER opening_release_keep_u BEFORE UPDATE ON opening_release BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER opening_release_keep_d BEFORE DELETE ON opening_release BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER opening_move_keep_u BEFORE UPDATE ON opening_move BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER opening_move_keep_d BEFORE DELETE ON opening_move BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
