-- +goose Up
-- Where a board is bad between its ends.
ALTER TABLE shed ADD COLUMN bad_from INTEGER NOT NULL DEFAULT 0;
ALTER TABLE shed ADD COLUMN bad_to INTEGER NOT NULL DEFAULT 0;

-- +goose Down
ALTER TABLE shed DROP COLUMN bad_from;
ALTER TABLE shed DROP COLUMN bad_to;
