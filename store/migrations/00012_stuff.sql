-- +goose Up
-- What a household has of screws, blocks and whole packs in its shed, beside boards.
CREATE TABLE stuff (
    household_id INTEGER NOT NULL REFERENCES households (id) ON DELETE CASCADE,
    region       TEXT NOT NULL,
    item         TEXT NOT NULL,
    n            INTEGER NOT NULL,
    PRIMARY KEY (household_id, region, item)
) WITHOUT ROWID;

-- +goose Down
DROP TABLE stuff;
