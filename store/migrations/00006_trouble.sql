-- +goose Up
-- Trouble with a lot: what it was and what was seen.
CREATE TABLE incident (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  kind     TEXT NOT NULL CHECK (trim(kind) <> ''),
  text     TEXT NOT NULL
) STRICT;
CREATE INDEX incident_lot ON incident (lot_id);

-- What was done about it and how it came out. The newest word of each kind
-- counts; an empty one says nothing.
CREATE TABLE incident_word (
  entry_id    INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id      INTEGER NOT NULL REFERENCES lot (id),
  incident_id INTEGER NOT NULL REFERENCES incident (entry_id),
  way         TEXT NOT NULL,
  outcome     TEXT NOT NULL,
  CHECK (way <> '' OR outcome <> '')
) STRICT;
CREATE INDEX incident_word_lot ON incident_word (lot_id);

-- What may have been the cause. The newest word on a subject counts; blamed = 0
-- takes it back.
CREATE TABLE incident_blame (
  entry_id    INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id      INTEGER NOT NULL REFERENCES lot (id),
  incident_id INTEGER NOT NULL REFERENCES incident (entry_id),
  subject     TEXT NOT NULL CHECK (trim(subject) <> ''),
  name        TEXT NOT NULL,
  blamed      INTEGER NOT NULL CHECK (blamed IN (0, 1))
) STRICT;
CREATE INDEX incident_blame_lot ON incident_blame (lot_id);
CREATE INDEX incident_blame_subject ON incident_blame (subject);

-- What became of a lot by a rescue.
CREATE TABLE lot_turn (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  cooked   INTEGER NOT NULL CHECK (cooked IN (0, 1)),
  plain    INTEGER NOT NULL CHECK (plain IN (0, 1)),
  why      TEXT NOT NULL
) STRICT;
CREATE INDEX lot_turn_lot ON lot_turn (lot_id);

-- What of another lot went into a lot. A parent is older than its child, so that
-- nothing is made from itself.
CREATE TABLE lot_parent (
  entry_id  INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id    INTEGER NOT NULL REFERENCES lot (id),
  parent_id INTEGER NOT NULL REFERENCES lot (id),
  what      TEXT NOT NULL CHECK (what IN ('batter', 'trimmings', 'rescued')),
  weight    INTEGER NOT NULL CHECK (weight > 0),
  CHECK (lot_id <> parent_id)
) STRICT;
CREATE INDEX lot_parent_lot ON lot_parent (lot_id);
CREATE INDEX lot_parent_parent ON lot_parent (parent_id);

-- Not for sale, or called back; is_on = 0 takes it back.
CREATE TABLE lot_mark (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  mark     TEXT NOT NULL CHECK (mark IN ('not-for-sale', 'recalled')),
  is_on    INTEGER NOT NULL CHECK (is_on IN (0, 1)),
  why      TEXT NOT NULL CHECK (trim(why) <> '')
) STRICT;
CREATE INDEX lot_mark_lot ON lot_mark (lot_id);

-- What to change next time.
CREATE TABLE lot_next (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  text     TEXT NOT NULL CHECK (trim(text) <> '')
) STRICT;
CREATE INDEX lot_next_lot ON lot_next (lot_id);

-- The reference bar that is kept back, and where.
CREATE TABLE lot_kept (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  bars     INTEGER NOT NULL CHECK (bars > 0),
  place    TEXT NOT NULL CHECK (trim(place) <> '')
) STRICT;
CREATE INDEX lot_kept_lot ON lot_kept (lot_id);

-- The digest of everything on record of a lot up to its release, so that any
-- later change of it shows.
CREATE TABLE release_digest (
  lot_id  INTEGER PRIMARY KEY REFERENCES lot (id),
  version INTEGER NOT NULL CHECK (version > 0),
  digest  TEXT NOT NULL
) STRICT;

-- What a lot is made of, to find lots by their ingredients, and as 'recipe' the
-- name it was made under.
CREATE TABLE lot_material (
  lot_id INTEGER NOT NULL REFERENCES lot (id),
  item   TEXT NOT NULL,
  name   TEXT NOT NULL,
  PRIMARY KEY (lot_id, item)
) STRICT, WITHOUT ROWID;
CREATE INDEX lot_material_item ON lot_material (item, lot_id);
INSERT OR IGNORE INTO lot_material (lot_id, item, name)
  SELECT l.id, json_extract(i.value, '$.key'), json_extract(i.value, '$.name')
  FROM lot l, json_each(l.frozen, '$.sheet') s, json_each(s.value, '$.items') i;
INSERT INTO lot_material (lot_id, item, name) SELECT id, 'recipe', coalesce(json_extract(frozen, '$.recipe'), '') FROM lot;

-- +goose StatementBegin
CREATE TRIGGER incident_keep_u BEFORE UPDATE ON incident BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER incident_keep_d BEFORE DELETE ON incident BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER incident_word_keep_u BEFORE UPDATE ON incident_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER incident_word_keep_d BEFORE DELETE ON incident_word BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER incident_blame_keep_u BEFORE UPDATE ON incident_blame BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER incident_blame_keep_d BEFORE DELETE ON incident_blame BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_turn_keep_u BEFORE UPDATE ON lot_turn BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_turn_keep_d BEFORE DELETE ON lot_turn BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_parent_keep_u BEFORE UPDATE ON lot_parent BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_parent_keep_d BEFORE DELETE ON lot_parent BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_mark_keep_u BEFORE UPDATE ON lot_mark BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_mark_keep_d BEFORE DELETE ON lot_mark BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_next_keep_u BEFORE UPDATE ON lot_next BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_next_keep_d BEFORE DELETE ON lot_next BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_kept_keep_u BEFORE UPDATE ON lot_kept BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_kept_keep_d BEFORE DELETE ON lot_kept BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER release_digest_keep_u BEFORE UPDATE ON release_digest BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER release_digest_keep_d BEFORE DELETE ON release_digest BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
