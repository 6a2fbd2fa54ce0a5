-- +goose Up
-- What was done for a lot between the pour and the release that is no record of
-- its own: the top textured, the gel looked for, the oven off, turned, stamped.
CREATE TABLE lot_care (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  what     TEXT NOT NULL CHECK (what IN ('texture', 'gel', 'oven', 'turn', 'stamp')),
  note     TEXT NOT NULL
) STRICT;
CREATE INDEX lot_care_lot ON lot_care (lot_id);

-- The address of the calendar feed that cannot be guessed. The newest counts.
CREATE TABLE calendar_feed (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  secret   TEXT NOT NULL UNIQUE CHECK (length(secret) >= 20)
) STRICT;

-- Weekdays on which nobody works, such as "sat sun".
ALTER TABLE shop ADD COLUMN days_off TEXT NOT NULL DEFAULT '';

-- +goose StatementBegin
CREATE TRIGGER lot_care_keep_u BEFORE UPDATE ON lot_care BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_care_keep_d BEFORE DELETE ON lot_care BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER calendar_feed_keep_u BEFORE UPDATE ON calendar_feed BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER calendar_feed_keep_d BEFORE DELETE ON calendar_feed BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
