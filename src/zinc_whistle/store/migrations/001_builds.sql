CREATE TABLE builds (
    id TEXT PRIMARY KEY,
    name TEXT NOT NULL,
    version INTEGER NOT NULL,
    body TEXT NOT NULL,
    created_at TEXT NOT NULL,
    saved_at TEXT NOT NULL,
    deleted_at TEXT
) STRICT;
CREATE TABLE revisions (
    id TEXT PRIMARY KEY,
    build_id TEXT NOT NULL REFERENCES builds (id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    reason TEXT NOT NULL,
    body TEXT NOT NULL,
    created_at TEXT NOT NULL,
    UNIQUE (build_id, number)
) STRICT;
