-- +goose Up
-- Boards that are owned: the shed, one for each region's boards.
CREATE TABLE shed (
    id         INTEGER PRIMARY KEY AUTOINCREMENT,
    region     TEXT NOT NULL,
    profile    TEXT NOT NULL,
    species    TEXT NOT NULL,
    length     INTEGER NOT NULL CHECK (length > 0),
    quantity   INTEGER NOT NULL CHECK (quantity >= 0),
    trim_start INTEGER NOT NULL DEFAULT 0,
    trim_end   INTEGER NOT NULL DEFAULT 0,
    note       TEXT NOT NULL DEFAULT ''
);
CREATE INDEX shed_region ON shed (region, profile, length);

-- +goose Down
DROP TABLE shed;
