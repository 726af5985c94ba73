-- +goose Up
-- Everything belongs to a household; the first is this file's own, and all there is while nobody has an account.
CREATE TABLE households (
    id         INTEGER PRIMARY KEY AUTOINCREMENT,
    name       TEXT NOT NULL,
    created_at TEXT NOT NULL
);
INSERT INTO households (id, name, created_at) VALUES (1, 'Our household', strftime('%Y-%m-%dT%H:%M:%SZ', 'now'));

CREATE TABLE accounts (
    id         INTEGER PRIMARY KEY AUTOINCREMENT,
    name       TEXT NOT NULL COLLATE NOCASE UNIQUE,
    password   TEXT NOT NULL DEFAULT '', -- argon2id; '' is nobody's
    handle     BLOB NOT NULL UNIQUE,     -- what passkeys know the account by
    created_at TEXT NOT NULL
);

CREATE TABLE members (
    household_id INTEGER NOT NULL REFERENCES households (id) ON DELETE CASCADE,
    account_id   INTEGER NOT NULL REFERENCES accounts (id) ON DELETE CASCADE,
    role         TEXT NOT NULL,
    PRIMARY KEY (household_id, account_id)
) WITHOUT ROWID;
CREATE INDEX members_account ON members (account_id);

CREATE TABLE project_roles (
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    account_id INTEGER NOT NULL REFERENCES accounts (id) ON DELETE CASCADE,
    role       TEXT NOT NULL,
    PRIMARY KEY (project_id, account_id)
) WITHOUT ROWID;
CREATE INDEX project_roles_account ON project_roles (account_id);

CREATE TABLE passkeys (
    id         BLOB PRIMARY KEY,
    account_id INTEGER NOT NULL REFERENCES accounts (id) ON DELETE CASCADE,
    name       TEXT NOT NULL,
    host       TEXT NOT NULL,
    body       BLOB NOT NULL,
    created_at TEXT NOT NULL
);
CREATE INDEX passkeys_account ON passkeys (account_id);

-- What a browser's cookie stands for: its token is kept hashed.
CREATE TABLE sessions (
    token   TEXT PRIMARY KEY,
    data    BLOB NOT NULL,
    expires INTEGER NOT NULL
) WITHOUT ROWID;
CREATE INDEX sessions_expires ON sessions (expires);

-- Who is signed in where. A session holds while its sign-in is here.
CREATE TABLE signins (
    id         INTEGER PRIMARY KEY AUTOINCREMENT,
    account_id INTEGER NOT NULL REFERENCES accounts (id) ON DELETE CASCADE,
    project_id INTEGER REFERENCES projects (id) ON DELETE CASCADE, -- a phone's: only this one
    device     TEXT NOT NULL,
    created_at TEXT NOT NULL,
    seen_at    TEXT NOT NULL
);
CREATE INDEX signins_account ON signins (account_id);

-- A device that has signed in as somebody before.
CREATE TABLE devices (
    hash       BLOB PRIMARY KEY,
    account_id INTEGER NOT NULL REFERENCES accounts (id) ON DELETE CASCADE,
    created_at TEXT NOT NULL
) WITHOUT ROWID;
CREATE INDEX devices_account ON devices (account_id);

-- Links that let somebody in; what they are opened by is kept hashed.
CREATE TABLE links (
    id           INTEGER PRIMARY KEY AUTOINCREMENT,
    hash         BLOB NOT NULL UNIQUE,
    kind         TEXT NOT NULL,
    household_id INTEGER REFERENCES households (id) ON DELETE CASCADE,
    project_id   INTEGER REFERENCES projects (id) ON DELETE CASCADE,
    account_id   INTEGER REFERENCES accounts (id) ON DELETE CASCADE, -- for whom
    made_by      INTEGER REFERENCES accounts (id) ON DELETE CASCADE,
    role         TEXT NOT NULL DEFAULT '',
    note         TEXT NOT NULL DEFAULT '',
    once         INTEGER NOT NULL,
    opened       INTEGER NOT NULL DEFAULT 0,
    created_at   TEXT NOT NULL,
    expires_at   TEXT NOT NULL
);
CREATE INDEX links_project ON links (project_id);
CREATE INDEX links_household ON links (household_id);
CREATE INDEX links_account ON links (account_id);
CREATE INDEX links_made ON links (made_by);

-- What somebody did about who may come in, for them to look at.
CREATE TABLE happenings (
    id         INTEGER PRIMARY KEY AUTOINCREMENT,
    account_id INTEGER NOT NULL REFERENCES accounts (id) ON DELETE CASCADE,
    what       TEXT NOT NULL,
    at         TEXT NOT NULL
);
CREATE INDEX happenings_account ON happenings (account_id);

ALTER TABLE projects ADD COLUMN household_id INTEGER NOT NULL DEFAULT 1;
ALTER TABLE shed ADD COLUMN household_id INTEGER NOT NULL DEFAULT 1;
DROP INDEX projects_touched;
DROP INDEX projects_deleted;
DROP INDEX shed_region;
CREATE INDEX projects_touched ON projects (household_id, updated_at DESC, id DESC) WHERE deleted_at IS NULL;
CREATE INDEX projects_deleted ON projects (household_id, deleted_at DESC, id DESC) WHERE deleted_at IS NOT NULL;
CREATE INDEX shed_region ON shed (household_id, region, profile, length);

CREATE TABLE habits_of (
    household_id INTEGER NOT NULL REFERENCES households (id) ON DELETE CASCADE,
    region       TEXT NOT NULL,
    body         TEXT NOT NULL,
    PRIMARY KEY (household_id, region)
) WITHOUT ROWID;
INSERT INTO habits_of (household_id, region, body) SELECT 1, region, body FROM habits;
DROP TABLE habits;
ALTER TABLE habits_of RENAME TO habits;

-- Whose edit a revision was, what it changed, and which one it takes back.
ALTER TABLE revisions ADD COLUMN account_id INTEGER;
ALTER TABLE revisions ADD COLUMN edits TEXT NOT NULL DEFAULT '';
ALTER TABLE revisions ADD COLUMN undoes INTEGER;
CREATE INDEX revisions_account ON revisions (account_id);

-- +goose Down
DROP INDEX revisions_account;
ALTER TABLE revisions DROP COLUMN undoes;
ALTER TABLE revisions DROP COLUMN edits;
ALTER TABLE revisions DROP COLUMN account_id;
CREATE TABLE habits_before (
    region TEXT PRIMARY KEY,
    body   TEXT NOT NULL
) WITHOUT ROWID;
INSERT INTO habits_before (region, body) SELECT region, body FROM habits WHERE household_id = 1;
DROP TABLE habits;
ALTER TABLE habits_before RENAME TO habits;
DROP INDEX shed_region;
DROP INDEX projects_deleted;
DROP INDEX projects_touched;
ALTER TABLE shed DROP COLUMN household_id;
ALTER TABLE projects DROP COLUMN household_id;
CREATE INDEX projects_touched ON projects (updated_at DESC, id DESC) WHERE deleted_at IS NULL;
CREATE INDEX projects_deleted ON projects (deleted_at DESC, id DESC) WHERE deleted_at IS NOT NULL;
CREATE INDEX shed_region ON shed (region, profile, length);
DROP TABLE happenings;
DROP TABLE links;
DROP TABLE devices;
DROP TABLE signins;
DROP TABLE sessions;
DROP TABLE passkeys;
DROP TABLE project_roles;
DROP TABLE members;
DROP TABLE accounts;
DROP TABLE households;
