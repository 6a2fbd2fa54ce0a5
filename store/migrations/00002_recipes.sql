-- +goose Up
-- Where a recipe is in its life. The newest word counts, for its revision.
CREATE TABLE recipe_life (
  entry_id  INTEGER PRIMARY KEY REFERENCES entry (id),
  recipe_id INTEGER NOT NULL REFERENCES recipe (id),
  number    INTEGER NOT NULL CHECK (number > 0),
  life      TEXT NOT NULL CHECK (life IN ('draft', 'trial', 'tested', 'retired'))
) STRICT;
CREATE INDEX recipe_life_by_recipe ON recipe_life (recipe_id, entry_id);

-- What a level teaspoon of something weighs on the shop's own scale.
CREATE TABLE spoon (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  name     TEXT NOT NULL COLLATE NOCASE CHECK (trim(name) <> ''),
  grams    REAL NOT NULL CHECK (grams > 0)
) STRICT;
CREATE INDEX spoon_by_name ON spoon (name, entry_id);

-- Scents as materials of a supplier.
CREATE TABLE scent (
  id       INTEGER PRIMARY KEY,
  oid      TEXT NOT NULL UNIQUE,
  entry_id INTEGER NOT NULL REFERENCES entry (id)
) STRICT;

CREATE TABLE scent_revision (
  entry_id INTEGER PRIMARY KEY REFERENCES entry (id),
  scent_id INTEGER NOT NULL REFERENCES scent (id),
  number   INTEGER NOT NULL CHECK (number > 0),
  name     TEXT NOT NULL CHECK (trim(name) <> ''),
  body     TEXT NOT NULL CHECK (json_valid(body)),
  UNIQUE (scent_id, number)
) STRICT;

-- +goose StatementBegin
CREATE TRIGGER recipe_life_keep_u BEFORE UPDATE ON recipe_life BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER recipe_life_keep_d BEFORE DELETE ON recipe_life BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER spoon_keep_u BEFORE UPDATE ON spoon BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER spoon_keep_d BEFORE DELETE ON spoon BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER scent_keep_u BEFORE UPDATE ON scent BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER scent_keep_d BEFORE DELETE ON scent BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER scent_revision_keep_u BEFORE UPDATE ON scent_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER scent_revision_keep_d BEFORE DELETE ON scent_revision BEGIN SELECT RAISE(ABORT, 'records are only added to'); END;
-- +goose StatementEnd
