-- +goose Up
-- Versions of a project that are pinned up beside it, to be compared.
CREATE TABLE pins (
    project_id  INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    revision_id INTEGER NOT NULL REFERENCES revisions (id) ON DELETE CASCADE,
    name        TEXT NOT NULL,
    at          TEXT NOT NULL,
    PRIMARY KEY (project_id, revision_id)
) WITHOUT ROWID;

-- +goose Down
DROP TABLE pins;
