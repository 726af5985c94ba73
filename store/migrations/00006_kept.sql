-- +goose Up
-- What this file is: "kind" is "demo" where it may be started afresh.
CREATE TABLE about (
    key   TEXT PRIMARY KEY,
    value TEXT NOT NULL
) WITHOUT ROWID;

-- What the list of projects shows, kept when a project is saved: figures and a small
-- drawing. It holds while the revision is the project's head, and is made anew where
-- it does not.
CREATE TABLE cards (
    project_id  INTEGER PRIMARY KEY REFERENCES projects (id) ON DELETE CASCADE,
    revision_id INTEGER NOT NULL,
    body        BLOB NOT NULL
);

-- Boards of the shed that a project counts on: others do without them.
CREATE TABLE claims (
    project_id  INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    leftover_id INTEGER NOT NULL REFERENCES shed (id) ON DELETE CASCADE,
    boards      INTEGER NOT NULL CHECK (boards > 0),
    PRIMARY KEY (project_id, leftover_id)
) WITHOUT ROWID;
CREATE INDEX claims_leftover ON claims (leftover_id);

-- The list goes by what was touched last.
CREATE INDEX projects_touched ON projects (updated_at DESC, id DESC) WHERE deleted_at IS NULL;
CREATE INDEX projects_deleted ON projects (deleted_at DESC, id DESC) WHERE deleted_at IS NOT NULL;
ALTER TABLE projects ADD COLUMN name TEXT NOT NULL DEFAULT '';
UPDATE projects SET name = coalesce(
    (SELECT json_extract(r.design, '$.name') FROM revisions r WHERE r.id = projects.head AND json_valid(r.design)), '');

-- +goose Down
ALTER TABLE projects DROP COLUMN name;
DROP INDEX projects_deleted;
DROP INDEX projects_touched;
DROP TABLE claims;
DROP TABLE cards;
DROP TABLE about;
