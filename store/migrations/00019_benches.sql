-- +goose Up
-- Who and what is at the bench on a day, for how long, and what is done at a time of it. The newest word on a day counts; an
-- empty day is what is usual.
CREATE TABLE bench (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  day      TEXT NOT NULL,
  body     TEXT NOT NULL CHECK (json_valid(body))
) STRICT;
CREATE INDEX bench_by_day ON bench (day, entry_id);
-- +goose StatementBegin
CREATE TRIGGER bench_keep_u BEFORE UPDATE ON bench BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bench_keep_d BEFORE DELETE ON bench BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
