-- +goose Up
-- Shops that a household buys at, and what they asked for things, each price with the day it was seen.
CREATE TABLE shops (
    id           INTEGER PRIMARY KEY AUTOINCREMENT,
    household_id INTEGER NOT NULL REFERENCES households (id) ON DELETE CASCADE,
    region       TEXT NOT NULL,
    name         TEXT NOT NULL,
    brings       INTEGER NOT NULL,
    fee          INTEGER NOT NULL,
    free         INTEGER NOT NULL,
    least        INTEGER NOT NULL,
    feed         INTEGER NOT NULL,
    told         TEXT NOT NULL DEFAULT '',
    told_at      TEXT NOT NULL DEFAULT ''
);
CREATE INDEX shops_household ON shops (household_id, region);
CREATE TABLE quotes (
    id      INTEGER PRIMARY KEY AUTOINCREMENT,
    shop_id INTEGER NOT NULL REFERENCES shops (id) ON DELETE CASCADE,
    sku     TEXT NOT NULL,
    price   INTEGER NOT NULL,
    taxed   INTEGER NOT NULL,
    has     INTEGER NOT NULL,
    seen    TEXT NOT NULL,
    at      TEXT NOT NULL
);
CREATE UNIQUE INDEX quotes_day ON quotes (shop_id, sku, seen);

-- +goose Down
DROP TABLE quotes;
DROP TABLE shops;
