-- +goose Up
-- A kept plan that nobody will make is put away, and may be taken out again. The newest word counts.
CREATE TABLE plan_away (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  plan_id  INTEGER NOT NULL REFERENCES plan (id),
  away     INTEGER NOT NULL CHECK (away IN (0, 1))
) STRICT;
CREATE INDEX plan_away_by_plan ON plan_away (plan_id, entry_id);

-- +goose StatementBegin
CREATE TRIGGER plan_away_keep_u BEFORE UPDATE ON plan_away BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER plan_away_keep_d BEFORE DELETE ON plan_away BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
