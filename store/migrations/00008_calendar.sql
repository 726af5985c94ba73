-- +goose Up
-- What a step was when it was ticked: where it has changed since, the tick does not stand for it any more.
ALTER TABLE ticks ADD COLUMN print TEXT NOT NULL DEFAULT '';
-- And when: what sets or settles waits from then.
ALTER TABLE ticks ADD COLUMN at TEXT NOT NULL DEFAULT '';

-- Events that were handed out in a calendar: one that is not among them any more is called off.
CREATE TABLE events (
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    uid        TEXT NOT NULL,
    title      TEXT NOT NULL,
    begins     TEXT NOT NULL,
    ends       TEXT NOT NULL,
    PRIMARY KEY (project_id, uid)
) WITHOUT ROWID;

-- What steps took, as it was written down; it stays when a tick goes.
CREATE TABLE takings (
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    key        TEXT NOT NULL,
    minutes    INTEGER NOT NULL,
    people     INTEGER NOT NULL,
    note       TEXT NOT NULL,
    at         TEXT NOT NULL,
    PRIMARY KEY (project_id, key)
) WITHOUT ROWID;

-- +goose Down
DROP TABLE takings;
DROP TABLE events;
ALTER TABLE ticks DROP COLUMN at;
ALTER TABLE ticks DROP COLUMN print;
