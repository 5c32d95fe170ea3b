CREATE TABLE recipe (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    document_json TEXT NOT NULL,
    made_at TEXT NOT NULL,
    touched_at TEXT NOT NULL,
    removed_at TEXT
) STRICT;

CREATE TABLE pull (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    sheet_id INTEGER NOT NULL REFERENCES sheet (id) ON DELETE CASCADE,
    name TEXT NOT NULL,
    document_json TEXT NOT NULL,
    made_at TEXT NOT NULL,
    removed_at TEXT
) STRICT;

CREATE INDEX pull_of_sheet ON pull (sheet_id);
