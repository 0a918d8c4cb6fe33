CREATE TABLE readings (
    id TEXT PRIMARY KEY,
    build_id TEXT NOT NULL REFERENCES builds (id) ON DELETE CASCADE,
    drive TEXT NOT NULL,
    step TEXT NOT NULL,
    title TEXT NOT NULL,
    text TEXT NOT NULL,
    value REAL NOT NULL,
    expected REAL,
    low REAL,
    high REAL,
    verdict TEXT NOT NULL,
    basis TEXT NOT NULL,
    note TEXT NOT NULL,
    taken_at TEXT NOT NULL,
    withdrawn_at TEXT
) STRICT;
CREATE INDEX readings_by_build ON readings (build_id, taken_at);
CREATE TABLE log_entries (
    id TEXT PRIMARY KEY,
    build_id TEXT NOT NULL REFERENCES builds (id) ON DELETE CASCADE,
    text TEXT NOT NULL,
    written_at TEXT NOT NULL,
    withdrawn_at TEXT
) STRICT;
CREATE INDEX log_by_build ON log_entries (build_id, written_at);
