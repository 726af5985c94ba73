-- +goose Up
-- A household of many projects: by name, and those whose saw has taught something.
CREATE INDEX projects_named ON projects (household_id, name COLLATE NOCASE, id) WHERE deleted_at IS NULL;
CREATE INDEX revisions_sawn ON revisions (id) WHERE instr(design, '"saw":') > 0;

-- +goose Down
DROP INDEX revisions_sawn;
DROP INDEX projects_named;
