-- What an entry of the shelf was before it was corrected: builds that hold a copy are offered the correction.
CREATE TABLE superseded_parts (
    kind TEXT NOT NULL,
    id TEXT NOT NULL,
    body TEXT NOT NULL,
    replaced_at TEXT NOT NULL
) STRICT;
CREATE INDEX superseded_parts_by_part ON superseded_parts (kind, id);
