-- +goose Up
-- A day at a stall; those of one name are one series. The body is its place, hours, fee, float, and what is to be brought.
CREATE TABLE market (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id)
) STRICT;

CREATE TABLE market_revision (
  entry_id  INTEGER PRIMARY KEY REFERENCES entry (id),
  market_id INTEGER NOT NULL REFERENCES market (id),
  number    INTEGER NOT NULL CHECK (number > 0),
  name      TEXT NOT NULL CHECK (trim(name) <> ''),
  body      TEXT NOT NULL CHECK (json_valid(body)),
  UNIQUE (market_id, number)
) STRICT;

-- Somebody who buys: records keep the key, and the name lies apart, so that it can be blanked.
CREATE TABLE buyer (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id),
  code     TEXT NOT NULL UNIQUE CHECK (trim(code) <> '')
) STRICT;

CREATE TABLE buyer_name (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  buyer_id INTEGER NOT NULL REFERENCES buyer (id),
  name     TEXT NOT NULL CHECK (trim(name) <> ''),
  contact  TEXT NOT NULL
) STRICT;
CREATE INDEX buyer_name_by_buyer ON buyer_name (buyer_id, entry_id);

-- That a name was blanked is kept; the name is not.
CREATE TABLE buyer_blank (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  buyer_id INTEGER NOT NULL REFERENCES buyer (id),
  why      TEXT NOT NULL
) STRICT;
CREATE INDEX buyer_blank_by_buyer ON buyer_blank (buyer_id);

-- An order of somebody's. A revision is named by the key of its buyer; the order's number is its id.
CREATE TABLE sale_order (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id)
) STRICT;

CREATE TABLE sale_order_revision (
  entry_id      INTEGER PRIMARY KEY REFERENCES entry (id),
  sale_order_id INTEGER NOT NULL REFERENCES sale_order (id),
  number        INTEGER NOT NULL CHECK (number > 0),
  name          TEXT NOT NULL CHECK (trim(name) <> ''),
  body          TEXT NOT NULL CHECK (json_valid(body)),
  UNIQUE (sale_order_id, number)
) STRICT;

-- Bars that go to a market or an order are put by for it: its box.
CREATE TABLE sale_box (
  reservation_id INTEGER PRIMARY KEY REFERENCES reservation (id),
  entry_id       INTEGER NOT NULL REFERENCES entry (id),
  market_id      INTEGER UNIQUE REFERENCES market (id),
  order_id       INTEGER UNIQUE REFERENCES sale_order (id),
  CHECK ((market_id IS NULL) <> (order_id IS NULL))
) STRICT;

-- What the till of a stall says, each under the key that the telephone gave it.
CREATE TABLE till_entry (
  entry_id  INTEGER PRIMARY KEY REFERENCES entry (id),
  oid       TEXT NOT NULL UNIQUE,
  market_id INTEGER NOT NULL REFERENCES market (id),
  what      TEXT NOT NULL CHECK (what IN ('sold', 'undone', 'asked')),
  at        INTEGER NOT NULL,
  pay       TEXT NOT NULL CHECK (pay IN ('cash', 'card', '')),
  amount    INTEGER NOT NULL CHECK (amount >= 0),
  body      TEXT NOT NULL CHECK (json_valid(body)),
  CHECK ((what = 'sold') = (pay <> ''))
) STRICT;
CREATE INDEX till_entry_by_market ON till_entry (market_id, entry_id);

-- A market that was counted back. The body is the count of bars and money.
CREATE TABLE market_home (
  entry_id  INTEGER PRIMARY KEY REFERENCES entry (id),
  market_id INTEGER NOT NULL UNIQUE REFERENCES market (id),
  body      TEXT NOT NULL CHECK (json_valid(body))
) STRICT;

-- What was taken for bars, in minor units: of bars that left under the head of their move, of bars that came back under
-- that of their return, below zero.
CREATE TABLE bar_sale (
  entry_id   INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id     INTEGER NOT NULL REFERENCES lot (id),
  size       TEXT NOT NULL,
  grade      TEXT NOT NULL CHECK (grade IN ('first', 'second', 'tester')),
  product_id INTEGER NOT NULL REFERENCES product (id),
  bars       INTEGER NOT NULL CHECK (bars <> 0),
  channel    TEXT NOT NULL,
  amount     INTEGER NOT NULL,
  tax        INTEGER NOT NULL, -- that is in it
  fee        INTEGER NOT NULL, -- that the channel keeps of it
  pay        TEXT NOT NULL,
  market_id  INTEGER REFERENCES market (id),
  order_id   INTEGER REFERENCES sale_order (id)
) STRICT;
CREATE INDEX bar_sale_by_lot ON bar_sale (lot_id);
CREATE INDEX bar_sale_by_market ON bar_sale (market_id) WHERE market_id IS NOT NULL;
CREATE INDEX bar_sale_by_order ON bar_sale (order_id) WHERE order_id IS NOT NULL;

-- What became of the bars of an order.
CREATE TABLE order_move (
  entry_id   INTEGER PRIMARY KEY REFERENCES entry (id),
  order_id   INTEGER NOT NULL REFERENCES sale_order (id),
  lot_id     INTEGER NOT NULL REFERENCES lot (id),
  size       TEXT NOT NULL,
  grade      TEXT NOT NULL CHECK (grade IN ('first', 'second', 'tester')),
  product_id INTEGER NOT NULL REFERENCES product (id),
  what       TEXT NOT NULL CHECK (what IN ('sent', 'sold', 'returned', 'judged sound', 'judged spoiled', 'judged tester')),
  bars       INTEGER NOT NULL CHECK (bars > 0),
  document   TEXT NOT NULL, -- the number of the paper that it went or was settled with
  note       TEXT NOT NULL
) STRICT;
CREATE INDEX order_move_by_order ON order_move (order_id, entry_id);
CREATE INDEX order_move_by_lot ON order_move (lot_id);

-- A delivery note or an invoice as it was printed. Numbers of a kind have no gaps.
CREATE TABLE sale_document (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  oid      TEXT NOT NULL UNIQUE,
  order_id INTEGER NOT NULL REFERENCES sale_order (id),
  kind     TEXT NOT NULL CHECK (kind IN ('delivery note', 'invoice', 'credit note')),
  number   INTEGER NOT NULL CHECK (number > 0),
  body     TEXT NOT NULL CHECK (json_valid(body)),
  UNIQUE (kind, number)
) STRICT;
CREATE INDEX sale_document_by_order ON sale_document (order_id, entry_id);

-- How the shop sells: its channels, tax, how long it keeps names, and how much it makes in a day; the newest counts.
CREATE TABLE sale_rules (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  body     TEXT NOT NULL CHECK (json_valid(body))
) STRICT;

-- +goose StatementBegin
CREATE TRIGGER market_keep_u BEFORE UPDATE ON market BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER market_keep_d BEFORE DELETE ON market BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER market_revision_keep_u BEFORE UPDATE ON market_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER market_revision_keep_d BEFORE DELETE ON market_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER buyer_keep_u BEFORE UPDATE ON buyer BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER buyer_keep_d BEFORE DELETE ON buyer BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER buyer_blank_keep_u BEFORE UPDATE ON buyer_blank BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER buyer_blank_keep_d BEFORE DELETE ON buyer_blank BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sale_order_keep_u BEFORE UPDATE ON sale_order BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sale_order_keep_d BEFORE DELETE ON sale_order BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sale_order_revision_keep_u BEFORE UPDATE ON sale_order_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sale_order_revision_keep_d BEFORE DELETE ON sale_order_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sale_box_keep_u BEFORE UPDATE ON sale_box BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sale_box_keep_d BEFORE DELETE ON sale_box BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER till_entry_keep_u BEFORE UPDATE ON till_entry BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER till_entry_keep_d BEFORE DELETE ON till_entry BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER market_home_keep_u BEFORE UPDATE ON market_home BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER market_home_keep_d BEFORE DELETE ON market_home BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bar_sale_keep_u BEFORE UPDATE ON bar_sale BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bar_sale_keep_d BEFORE DELETE ON bar_sale BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER order_move_keep_u BEFORE UPDATE ON order_move BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER order_move_keep_d BEFORE DELETE ON order_move BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sale_document_keep_u BEFORE UPDATE ON sale_document BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sale_document_keep_d BEFORE DELETE ON sale_document BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sale_rules_keep_u BEFORE UPDATE ON sale_rules BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER sale_rules_keep_d BEFORE DELETE ON sale_rules BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- A name can be blanked, and nothing else be done to it.
-- +goose StatementBegin
CREATE TRIGGER buyer_name_keep_u BEFORE UPDATE ON buyer_name BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
