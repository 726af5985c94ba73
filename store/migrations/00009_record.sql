-- +goose Up
-- What became of things that are bought: how many packs were taken, for how much, and what was left in the end.
CREATE TABLE goods (
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    item       TEXT NOT NULL,
    name       TEXT NOT NULL,
    unit       TEXT NOT NULL,
    packs      INTEGER NOT NULL,
    lacked     INTEGER NOT NULL,
    paid       INTEGER,
    rest       INTEGER,
    need       INTEGER NOT NULL,
    had        INTEGER NOT NULL,
    at         TEXT NOT NULL,
    PRIMARY KEY (project_id, item)
) WITHOUT ROWID;

-- Sizes as they were measured beside those that were planned, in nanometres: how a bed came out, how far its soil sank,
-- what cuts of the saw took.
CREATE TABLE sizes (
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    key        TEXT NOT NULL,
    planned    INTEGER NOT NULL,
    measured   INTEGER NOT NULL,
    at         TEXT NOT NULL,
    PRIMARY KEY (project_id, key)
) WITHOUT ROWID;

-- Pictures of the work, as they were encoded anew.
CREATE TABLE photos (
    id         INTEGER PRIMARY KEY,
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    key        TEXT NOT NULL,
    caption    TEXT NOT NULL,
    width      INTEGER NOT NULL,
    height     INTEGER NOT NULL,
    body       BLOB NOT NULL,
    at         TEXT NOT NULL
);
CREATE INDEX photos_of ON photos (project_id, id);

-- +goose Down
DROP TABLE photos;
DROP TABLE sizes;
DROP TABLE goods;
