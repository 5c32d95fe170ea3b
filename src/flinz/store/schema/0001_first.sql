CREATE TABLE photo (
    id TEXT PRIMARY KEY,
    title TEXT NOT NULL,
    caption TEXT NOT NULL,
    format TEXT NOT NULL,
    width INTEGER NOT NULL,
    height INTEGER NOT NULL,
    notes_json TEXT NOT NULL,
    bytes BLOB NOT NULL,
    added_at TEXT NOT NULL,
    removed_at TEXT
) STRICT;

CREATE TABLE sheet (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    photo_id TEXT NOT NULL REFERENCES photo (id),
    revision INTEGER NOT NULL,
    step INTEGER NOT NULL,
    made_at TEXT NOT NULL,
    touched_at TEXT NOT NULL,
    removed_at TEXT
) STRICT;

CREATE TABLE step (
    sheet_id INTEGER NOT NULL REFERENCES sheet (id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    words TEXT NOT NULL,
    gesture TEXT NOT NULL,
    document_json TEXT NOT NULL,
    made_at TEXT NOT NULL,
    PRIMARY KEY (sheet_id, number)
) STRICT, WITHOUT ROWID;

CREATE TABLE job (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    sheet_id INTEGER NOT NULL REFERENCES sheet (id) ON DELETE CASCADE,
    kind TEXT NOT NULL,
    state TEXT NOT NULL CHECK (state IN ('waiting', 'running', 'done', 'failed', 'stopped')),
    share REAL NOT NULL,
    message TEXT NOT NULL,
    file_name TEXT NOT NULL,
    made_at TEXT NOT NULL
) STRICT;
