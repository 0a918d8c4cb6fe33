CREATE TABLE parts (
    id TEXT PRIMARY KEY,
    kind TEXT NOT NULL,
    name TEXT NOT NULL,
    sample INTEGER NOT NULL,
    body TEXT NOT NULL,
    saved_at TEXT NOT NULL
) STRICT;
