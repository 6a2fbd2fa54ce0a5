-- +goose Up
-- What bars are sold as. The body is its words, prices and what it is made of.
CREATE TABLE product (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id)
) STRICT;

CREATE TABLE product_revision (
  entry_id   INTEGER PRIMARY KEY REFERENCES entry (id),
  product_id INTEGER NOT NULL REFERENCES product (id),
  number     INTEGER NOT NULL CHECK (number > 0),
  name       TEXT NOT NULL CHECK (trim(name) <> ''),
  body       TEXT NOT NULL CHECK (json_valid(body)),
  UNIQUE (product_id, number)
) STRICT;

-- A picture of a product; the newest counts. The file is named by its content, and the row is written after it.
CREATE TABLE product_photo (
  entry_id   INTEGER PRIMARY KEY REFERENCES entry (id),
  product_id INTEGER NOT NULL REFERENCES product (id),
  file       TEXT NOT NULL CHECK (trim(file) <> '')
) STRICT;
CREATE INDEX product_photo_by_product ON product_photo (product_id, entry_id);
CREATE INDEX product_photo_by_file ON product_photo (file);

-- A sheet of labels, by its measures.
CREATE TABLE sheet (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id)
) STRICT;

CREATE TABLE sheet_revision (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  sheet_id INTEGER NOT NULL REFERENCES sheet (id),
  number   INTEGER NOT NULL CHECK (number > 0),
  name     TEXT NOT NULL CHECK (trim(name) <> ''),
  body     TEXT NOT NULL CHECK (json_valid(body)),
  UNIQUE (sheet_id, number)
) STRICT;

-- What the region of the shop asks of labels; the newest counts.
CREATE TABLE label_rules (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  body     TEXT NOT NULL CHECK (json_valid(body))
) STRICT;

-- What a supplier says of the allergens in an additive, or in one delivery of it; the newest word on each counts.
CREATE TABLE allergen_word (
  entry_id    INTEGER PRIMARY KEY REFERENCES entry (id),
  item        TEXT NOT NULL CHECK (trim(item) <> ''),
  delivery_id INTEGER REFERENCES ingredient_lot (id),
  body        TEXT NOT NULL CHECK (json_valid(body))
) STRICT;
CREATE INDEX allergen_word_by_item ON allergen_word (item, entry_id);
CREATE INDEX allergen_word_by_delivery ON allergen_word (delivery_id, entry_id) WHERE delivery_id IS NOT NULL;

-- What an assessor wrote of a recipe; the newest counts.
CREATE TABLE assessment (
  entry_id  INTEGER PRIMARY KEY REFERENCES entry (id),
  recipe_id INTEGER NOT NULL REFERENCES recipe (id),
  body      TEXT NOT NULL CHECK (json_valid(body))
) STRICT;
CREATE INDEX assessment_by_recipe ON assessment (recipe_id, entry_id);

-- Bars are put by for a market, an order, a person, or the family whose own soap it is.
CREATE TABLE reservation (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id),
  kind     TEXT NOT NULL CHECK (kind IN ('market', 'order', 'person', 'family')),
  name     TEXT NOT NULL CHECK (trim(name) <> ''),
  day      TEXT NOT NULL CHECK (day = '' OR day GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9]')
) STRICT;

-- A run of labels: printed for bars of a lot, as that product. The body is the label as it was printed.
CREATE TABLE label_run (
  entry_id   INTEGER PRIMARY KEY REFERENCES entry (id),
  oid        TEXT NOT NULL UNIQUE,
  lot_id     INTEGER NOT NULL REFERENCES lot (id),
  size       TEXT NOT NULL,
  grade      TEXT NOT NULL CHECK (grade IN ('first', 'second')),
  product_id INTEGER NOT NULL REFERENCES product (id),
  number     INTEGER NOT NULL CHECK (number > 0), -- the revision of the product
  bars       INTEGER NOT NULL CHECK (bars >= 0),  -- that it was printed for
  labels     INTEGER NOT NULL CHECK (labels > 0), -- that were printed, with those for the file and the bin
  body       TEXT NOT NULL CHECK (json_valid(body))
) STRICT;
CREATE INDEX label_run_by_lot ON label_run (lot_id, entry_id);
CREATE INDEX label_run_by_product ON label_run (product_id, entry_id);

-- Bars become one product's by a label, or are put by; freed they are shared again.
CREATE TABLE bar_binding (
  entry_id       INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id         INTEGER NOT NULL REFERENCES lot (id),
  size           TEXT NOT NULL,
  grade          TEXT NOT NULL CHECK (grade IN ('first', 'second', 'tester')),
  product_id     INTEGER REFERENCES product (id),
  reservation_id INTEGER REFERENCES reservation (id),
  what           TEXT NOT NULL CHECK (what IN ('labelled', 'reserved', 'freed', 'left', 'back')),
  change         INTEGER NOT NULL CHECK (change <> 0),
  note           TEXT NOT NULL,
  CHECK (product_id IS NOT NULL OR reservation_id IS NOT NULL)
) STRICT;
CREATE INDEX bar_binding_by_lot ON bar_binding (lot_id, entry_id);
CREATE INDEX bar_binding_by_product ON bar_binding (product_id) WHERE product_id IS NOT NULL;
CREATE INDEX bar_binding_by_reservation ON bar_binding (reservation_id) WHERE reservation_id IS NOT NULL;

-- Bars that are bound now, changed in the same transaction: never more than there are of them.
CREATE TABLE bound_balance (
  lot_id         INTEGER NOT NULL REFERENCES lot (id),
  size           TEXT NOT NULL,
  grade          TEXT NOT NULL,
  product_id     INTEGER REFERENCES product (id),
  reservation_id INTEGER REFERENCES reservation (id),
  bars           INTEGER NOT NULL CHECK (bars >= 0)
) STRICT;
CREATE UNIQUE INDEX bound_balance_key ON bound_balance (lot_id, size, grade, coalesce(product_id, 0), coalesce(reservation_id, 0));
CREATE INDEX bound_balance_by_reservation ON bound_balance (reservation_id) WHERE reservation_id IS NOT NULL;

-- Where bars went that left; it shares the head of the move.
CREATE TABLE bar_departure (
  entry_id       INTEGER PRIMARY KEY REFERENCES bar_move (entry_id),
  product_id     INTEGER REFERENCES product (id),
  reservation_id INTEGER REFERENCES reservation (id),
  channel        TEXT NOT NULL,
  buyer          TEXT NOT NULL, -- empty for somebody nobody knows
  event          TEXT NOT NULL
) STRICT;
CREATE INDEX bar_departure_by_product ON bar_departure (product_id) WHERE product_id IS NOT NULL;
CREATE INDEX bar_departure_by_reservation ON bar_departure (reservation_id) WHERE reservation_id IS NOT NULL;
CREATE INDEX bar_departure_by_event ON bar_departure (event) WHERE event <> '';

-- A recall, or a drill of one: what it began with, and the lots that it came to.
CREATE TABLE recall (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id),
  number   INTEGER NOT NULL UNIQUE CHECK (number > 0),
  drill    INTEGER NOT NULL CHECK (drill IN (0, 1)),
  kind     TEXT NOT NULL CHECK (kind IN ('order', 'delivery', 'stock', 'jar', 'lot', 'product', 'scent', 'event')),
  of       TEXT NOT NULL, -- the identity of what it began with, or its name
  name     TEXT NOT NULL,
  why      TEXT NOT NULL CHECK (trim(why) <> '')
) STRICT;

CREATE TABLE recall_lot (
  recall_id INTEGER NOT NULL REFERENCES recall (id),
  lot_id    INTEGER NOT NULL REFERENCES lot (id),
  entry_id  INTEGER NOT NULL REFERENCES entry (id),
  share_mg  INTEGER NOT NULL CHECK (share_mg >= 0), -- of what it began with, that is in the lot
  PRIMARY KEY (recall_id, lot_id)
) STRICT;
CREATE INDEX recall_lot_by_lot ON recall_lot (lot_id);

CREATE TABLE recall_move (
  entry_id  INTEGER PRIMARY KEY REFERENCES entry (id),
  recall_id INTEGER NOT NULL REFERENCES recall (id),
  lot_id    INTEGER NOT NULL REFERENCES lot (id),
  what      TEXT NOT NULL CHECK (what IN ('returned', 'destroyed', 'used')),
  pool      TEXT NOT NULL CHECK (pool IN ('house', 'buyer', 'unknown', 'returned')),
  move_id   INTEGER REFERENCES bar_move (entry_id), -- they left by, of a known buyer
  bars      INTEGER NOT NULL CHECK (bars > 0),
  note      TEXT NOT NULL,
  CHECK ((pool = 'buyer') = (move_id IS NOT NULL))
) STRICT;
CREATE INDEX recall_move_by_recall ON recall_move (recall_id, entry_id);

CREATE TABLE recall_word (
  entry_id  INTEGER PRIMARY KEY REFERENCES entry (id),
  recall_id INTEGER NOT NULL REFERENCES recall (id),
  what      TEXT NOT NULL CHECK (what IN ('ended', 'opened again')),
  note      TEXT NOT NULL
) STRICT;
CREATE INDEX recall_word_by_recall ON recall_word (recall_id, entry_id);

-- What somebody complains of, and what was done about it.
CREATE TABLE complaint (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id),
  number   INTEGER NOT NULL UNIQUE CHECK (number > 0),
  lot_id   INTEGER REFERENCES lot (id), -- where the bar's code is known
  kind     TEXT NOT NULL CHECK (kind IN ('skin', 'soft', 'crumbles', 'spots', 'smell', 'other')),
  said     TEXT NOT NULL CHECK (trim(said) <> ''),
  who      TEXT NOT NULL
) STRICT;
CREATE INDEX complaint_by_lot ON complaint (lot_id) WHERE lot_id IS NOT NULL;

CREATE TABLE complaint_word (
  entry_id     INTEGER PRIMARY KEY REFERENCES entry (id),
  complaint_id INTEGER NOT NULL REFERENCES complaint (id),
  what         TEXT NOT NULL CHECK (what IN ('done', 'held', 'recalled', 'ended')),
  text         TEXT NOT NULL CHECK (trim(text) <> '')
) STRICT;
CREATE INDEX complaint_word_by_complaint ON complaint_word (complaint_id, entry_id);

-- No bars leave that are bound to something else, and none are bound that are not there.
-- +goose StatementBegin
CREATE TRIGGER bound_bars_stay BEFORE UPDATE ON bar_balance
WHEN NEW.bars >= 0 AND NEW.bars < (SELECT coalesce(sum(b.bars), 0) FROM bound_balance b
  WHERE b.lot_id = NEW.lot_id AND b.size = NEW.size AND b.grade = NEW.grade)
BEGIN SELECT RAISE(ABORT, 'these bars are labelled or put by'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bound_bars_are_there_i AFTER INSERT ON bound_balance
WHEN (SELECT sum(b.bars) FROM bound_balance b WHERE b.lot_id = NEW.lot_id AND b.size = NEW.size AND b.grade = NEW.grade)
  > (SELECT coalesce(sum(x.bars), 0) FROM bar_balance x WHERE x.lot_id = NEW.lot_id AND x.size = NEW.size AND x.grade = NEW.grade)
BEGIN SELECT RAISE(ABORT, 'there are not so many bars'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bound_bars_are_there_u AFTER UPDATE ON bound_balance
WHEN (SELECT sum(b.bars) FROM bound_balance b WHERE b.lot_id = NEW.lot_id AND b.size = NEW.size AND b.grade = NEW.grade)
  > (SELECT coalesce(sum(x.bars), 0) FROM bar_balance x WHERE x.lot_id = NEW.lot_id AND x.size = NEW.size AND x.grade = NEW.grade)
BEGIN SELECT RAISE(ABORT, 'there are not so many bars'); END;
-- +goose StatementEnd

-- +goose StatementBegin
CREATE TRIGGER product_keep_u BEFORE UPDATE ON product BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER product_keep_d BEFORE DELETE ON product BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER product_revision_keep_u BEFORE UPDATE ON product_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER product_revision_keep_d BEFORE DELETE ON product_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sheet_keep_u BEFORE UPDATE ON sheet BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sheet_keep_d BEFORE DELETE ON sheet BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sheet_revision_keep_u BEFORE UPDATE ON sheet_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sheet_revision_keep_d BEFORE DELETE ON sheet_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER label_rules_keep_u BEFORE UPDATE ON label_rules BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER label_rules_keep_d BEFORE DELETE ON label_rules BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER allergen_word_keep_u BEFORE UPDATE ON allergen_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER allergen_word_keep_d BEFORE DELETE ON allergen_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER assessment_keep_u BEFORE UPDATE ON assessment BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER assessment_keep_d BEFORE DELETE ON assessment BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER reservation_keep_u BEFORE UPDATE ON reservation BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER reservation_keep_d BEFORE DELETE ON reservation BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER label_run_keep_u BEFORE UPDATE ON label_run BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER label_run_keep_d BEFORE DELETE ON label_run BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bar_binding_keep_u BEFORE UPDATE ON bar_binding BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bar_binding_keep_d BEFORE DELETE ON bar_binding BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bar_departure_keep_u BEFORE UPDATE ON bar_departure BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bar_departure_keep_d BEFORE DELETE ON bar_departure BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER recall_keep_u BEFORE UPDATE ON recall BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER recall_keep_d BEFORE DELETE ON recall BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER recall_lot_keep_u BEFORE UPDATE ON recall_lot BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER recall_lot_keep_d BEFORE DELETE ON recall_lot BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER recall_move_keep_u BEFORE UPDATE ON recall_move BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER recall_move_keep_d BEFORE DELETE ON recall_move BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER recall_word_keep_u BEFORE UPDATE ON recall_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER recall_word_keep_d BEFORE DELETE ON recall_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER complaint_keep_u BEFORE UPDATE ON complaint BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER complaint_keep_d BEFORE DELETE ON complaint BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER complaint_word_keep_u BEFORE UPDATE ON complaint_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER complaint_word_keep_d BEFORE DELETE ON complaint_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER product_photo_keep_u BEFORE UPDATE ON product_photo BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER product_photo_keep_d BEFORE DELETE ON product_photo BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
