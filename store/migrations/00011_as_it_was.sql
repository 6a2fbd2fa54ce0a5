-- +goose Up
-- What a step was called when it was ticked; empty before that was kept.
ALTER TABLE run_tick ADD COLUMN title TEXT NOT NULL DEFAULT '';

-- What a way out and an incident were called when they were chosen; likewise.
ALTER TABLE incident_word ADD COLUMN name TEXT NOT NULL DEFAULT '';
ALTER TABLE incident ADD COLUMN name TEXT NOT NULL DEFAULT '';

-- How the pot was judged when it was poured: its superfat and the one that was
-- meant, whether it was lye-heavy, and what was said of it.
CREATE TABLE pour_judgement (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL UNIQUE REFERENCES lot (id),
  superfat REAL NOT NULL,
  planned  REAL NOT NULL,
  heavy    INTEGER NOT NULL CHECK (heavy IN (0, 1)),
  said     TEXT NOT NULL
) STRICT;

-- What follows from the records of a plan, changed in the transaction that adds one:
-- whether a lot of it is still to be started, and the day and turn it is meant for.
CREATE TABLE plan_state (
  plan_id INTEGER PRIMARY KEY REFERENCES plan (id),
  open    INTEGER NOT NULL CHECK (open IN (0, 1)),
  day     TEXT NOT NULL,
  turn    INTEGER NOT NULL
) STRICT;
INSERT INTO plan_state (plan_id, open, day, turn)
  SELECT p.id, NOT EXISTS (SELECT 1 FROM lot l WHERE l.plan_id = p.id), coalesce(y.day, ''), coalesce(y.turn, 0)
  FROM plan p LEFT JOIN plan_day y ON y.entry_id = (SELECT max(entry_id) FROM plan_day x WHERE x.plan_id = p.id);
CREATE INDEX plan_state_open ON plan_state (plan_id) WHERE open = 1;
CREATE INDEX plan_state_day ON plan_state (day, turn, plan_id) WHERE day <> '';

-- +goose StatementBegin
CREATE TRIGGER pour_judgement_keep_u BEFORE UPDATE ON pour_judgement BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER pour_judgement_keep_d BEFORE DELETE ON pour_judgement BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd

-- What is done for a lot has more kinds than at first, such as diluting a paste.
CREATE TABLE lot_care_more (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  lot_id   INTEGER NOT NULL REFERENCES lot (id),
  what     TEXT NOT NULL CHECK (trim(what) <> ''),
  note     TEXT NOT NULL
) STRICT;
INSERT INTO lot_care_more (entry_id, lot_id, what, note) SELECT entry_id, lot_id, what, note FROM lot_care;
DROP TABLE lot_care;
ALTER TABLE lot_care_more RENAME TO lot_care;
CREATE INDEX lot_care_lot ON lot_care (lot_id);
-- +goose StatementBegin
CREATE TRIGGER lot_care_keep_u BEFORE UPDATE ON lot_care BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lot_care_keep_d BEFORE DELETE ON lot_care BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
