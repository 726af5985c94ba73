-- +goose Up
CREATE TABLE projects (
    id         INTEGER PRIMARY KEY AUTOINCREMENT,
    head       INTEGER REFERENCES revisions (id),
    deleted_at TEXT,
    created_at TEXT NOT NULL,
    updated_at TEXT NOT NULL
);

-- Every edit is a revision; a project's design is its head. Undo moves the head
-- to the parent, redo to the newest child, and nothing is ever overwritten.
CREATE TABLE revisions (
    id         INTEGER PRIMARY KEY AUTOINCREMENT,
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    parent_id  INTEGER REFERENCES revisions (id),
    label      TEXT NOT NULL,
    design     TEXT NOT NULL,
    created_at TEXT NOT NULL
);
CREATE INDEX revisions_project ON revisions (project_id, id);
CREATE INDEX revisions_parent ON revisions (parent_id, id);

-- What has been ticked off: a build step, later a cut.
CREATE TABLE ticks (
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    key        TEXT NOT NULL,
    PRIMARY KEY (project_id, key)
) WITHOUT ROWID;

CREATE TABLE habits (
    region TEXT PRIMARY KEY,
    body   TEXT NOT NULL
) WITHOUT ROWID;

-- +goose Down
DROP TABLE habits;
DROP TABLE ticks;
DROP TABLE revisions;
DROP TABLE projects;
