-- +goose Up
-- What was recorded while the machine's clock was in doubt, and how: it stood before
-- the newest entry, or long after. "other" is the moment that it did not agree with.
CREATE TABLE clock_doubt (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  doubt    TEXT NOT NULL CHECK (doubt IN ('behind', 'ahead')),
  other    INTEGER NOT NULL
) STRICT;

-- A person's word that the clock is right.
CREATE TABLE clock_word (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id)
) STRICT;

-- When something really happened, where the clock was wrong. Both moments stay.
CREATE TABLE entry_time (
  entry_id    INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id      INTEGER NOT NULL REFERENCES lot (id),
  of_id       INTEGER NOT NULL REFERENCES entry (id),
  occurred_at INTEGER NOT NULL,
  said        TEXT NOT NULL
) STRICT;
CREATE INDEX entry_time_of ON entry_time (of_id, entry_id);
CREATE INDEX entry_time_lot ON entry_time (lot_id);

CREATE INDEX entry_recorded ON entry (recorded_at);

-- When each thing happened, by what is known now.
CREATE VIEW happened (id, at) AS
  SELECT e.id, coalesce((SELECT t.occurred_at FROM entry_time t WHERE t.of_id = e.id ORDER BY t.entry_id DESC LIMIT 1), e.occurred_at) FROM entry e;

-- The entries that are still in doubt: nobody put their time right, and nobody said soon
-- afterwards (within 60 days, in milliseconds) that the clock is right.
CREATE VIEW doubted (id, doubt) AS
  SELECT d.entry_id, d.doubt FROM clock_doubt d JOIN entry e ON e.id = d.entry_id
  WHERE NOT EXISTS (SELECT 1 FROM entry_time t WHERE t.of_id = d.entry_id)
    AND NOT EXISTS (SELECT 1 FROM clock_word k CROSS JOIN entry ke ON ke.id = k.entry_id -- the few words first
      WHERE k.entry_id > d.entry_id AND ke.recorded_at BETWEEN e.recorded_at AND e.recorded_at + 5184000000);

-- +goose StatementBegin
CREATE TRIGGER clock_doubt_keep_u BEFORE UPDATE ON clock_doubt BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER clock_doubt_keep_d BEFORE DELETE ON clock_doubt BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER clock_word_keep_u BEFORE UPDATE ON clock_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER clock_word_keep_d BEFORE DELETE ON clock_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER entry_time_keep_u BEFORE UPDATE ON entry_time BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER entry_time_keep_d BEFORE DELETE ON entry_time BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
