-- +goose Up
-- Strips that were ripped from a board: 0 is the board's own width.
ALTER TABLE shed ADD COLUMN width INTEGER NOT NULL DEFAULT 0;

-- +goose Down
ALTER TABLE shed DROP COLUMN width;
