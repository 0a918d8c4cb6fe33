CREATE TABLE kept_files (
    id TEXT PRIMARY KEY,
    build_id TEXT NOT NULL REFERENCES builds (id) ON DELETE CASCADE,
    revision INTEGER NOT NULL,
    kind TEXT NOT NULL,
    name TEXT NOT NULL,
    type TEXT NOT NULL,
    says TEXT NOT NULL,
    body BLOB NOT NULL,
    kept_at TEXT NOT NULL,
    withdrawn_at TEXT
) STRICT;
CREATE INDEX kept_by_build ON kept_files (build_id, kept_at);
