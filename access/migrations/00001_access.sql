-- +goose Up
-- What this file belongs to: the life of the shop, and the secret that is mixed in.
CREATE TABLE binding (
  name  TEXT PRIMARY KEY,
  value TEXT NOT NULL
) STRICT;

-- What somebody shows that it is she. A new epoch ends all her sessions.
CREATE TABLE account (
  person_id  INTEGER PRIMARY KEY,
  pin        TEXT NOT NULL DEFAULT '',
  passphrase TEXT NOT NULL DEFAULT '',
  epoch      INTEGER NOT NULL DEFAULT 0
) STRICT;

-- Devices of the shop, by the digest of the token that each has.
CREATE TABLE enrolled (
  id          INTEGER PRIMARY KEY,
  digest      TEXT NOT NULL UNIQUE,
  name        TEXT NOT NULL,
  person_id   INTEGER NOT NULL, -- whose invitation it came by
  enrolled_at INTEGER NOT NULL,
  seen_at     INTEGER NOT NULL  -- when somebody last signed in at it
) STRICT;

CREATE TABLE invitation (
  digest     TEXT PRIMARY KEY,
  person_id  INTEGER NOT NULL UNIQUE,
  expires_at INTEGER NOT NULL
) STRICT;

-- Wrong tries, by where and whose. A restart does not make them undone.
CREATE TABLE attempt (
  what     TEXT PRIMARY KEY,
  failures INTEGER NOT NULL,
  until    INTEGER NOT NULL
) STRICT;

CREATE TABLE session (
  digest     TEXT PRIMARY KEY,
  data       BLOB NOT NULL,
  expires_at INTEGER NOT NULL
) STRICT;

-- Who came in from where, and what was refused.
CREATE TABLE event (
  id        INTEGER PRIMARY KEY,
  kind      TEXT NOT NULL,
  person_id INTEGER NOT NULL, -- 0 when nobody is known
  device_id INTEGER NOT NULL, -- 0 for one that is not enrolled
  address   TEXT NOT NULL,
  detail    TEXT NOT NULL,
  times     INTEGER NOT NULL,
  at        INTEGER NOT NULL
) STRICT;
