-- A driver, a motor and a component may bear one id without one of them being written over by another.
CREATE TABLE parts_by_kind (
    id TEXT NOT NULL,
    kind TEXT NOT NULL,
    name TEXT NOT NULL,
    sample INTEGER NOT NULL,
    body TEXT NOT NULL,
    saved_at TEXT NOT NULL,
    PRIMARY KEY (kind, id)
) STRICT;
INSERT INTO parts_by_kind SELECT id, kind, name, sample, body, saved_at FROM parts;
DROP TABLE parts;
ALTER TABLE parts_by_kind RENAME TO parts;
