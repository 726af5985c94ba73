-- +goose Up
-- Where this file is a view of a log that several machines share: the last of each subject that is in it, and by '' how
-- far the whole of the log is.
CREATE TABLE log_at (
    subject TEXT PRIMARY KEY,
    seq     INTEGER NOT NULL
) WITHOUT ROWID;

-- Subjects whose past is to be taken out of the log: what they were about has been deleted for good.
CREATE TABLE log_ends (
    subject TEXT PRIMARY KEY,
    seq     INTEGER NOT NULL
) WITHOUT ROWID;

-- Designs of old revisions, many in one, packed. A revision whose design is in a pack has '' for its own.
CREATE TABLE packs (
    id         INTEGER PRIMARY KEY,
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    body       BLOB NOT NULL,
    size       INTEGER NOT NULL -- of the designs that are in it, bytes
);
CREATE INDEX packs_of ON packs (project_id, id);
ALTER TABLE revisions ADD COLUMN pack_id INTEGER;
CREATE INDEX revisions_loose ON revisions (project_id, id)
    WHERE pack_id IS NULL AND length(CAST(design AS BLOB)) BETWEEN 1 AND 65536;
CREATE INDEX revisions_packed ON revisions (pack_id) WHERE pack_id IS NOT NULL;

-- +goose Down
DROP INDEX revisions_packed;
DROP INDEX revisions_loose;
ALTER TABLE revisions DROP COLUMN pack_id;
DROP TABLE packs;
DROP TABLE log_ends;
DROP TABLE log_at;
