-- +goose Up
-- What a step was when it was ticked: where it has changed since, the tick does not stand for it any more.
ALTER TABLE ticks ADD COLUMN print TEXT NOT NULL DEFAULT '';

-- Events that were handed out in a calendar: one that is not among them any more is called off.
CREATE TABLE events (
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    uid        TEXT NOT NULL,
    title      TEXT NOT NULL,
    begins     TEXT NOT NULL,
    ends       TEXT NOT NULL,
    PRIMARY KEY (project_id, uid)
) WITHOUT ROWID;

-- +goose Down
DROP TABLE events;
ALTER TABLE ticks DROP COLUMN print;
