-- +goose Up
-- What longer searches for a way to cut have come to, so that a plan does not fall
-- back to a dearer one.
CREATE TABLE found (
    job    TEXT PRIMARY KEY,
    answer BLOB NOT NULL,
    at     TEXT NOT NULL
);

-- +goose Down
DROP TABLE found;
