-- Fonts that somebody brought, once per content.
CREATE TABLE font (
    id TEXT PRIMARY KEY,
    name TEXT NOT NULL,
    bytes BLOB NOT NULL,
    added_at TEXT NOT NULL
) STRICT;
