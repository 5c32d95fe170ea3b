CREATE TABLE edition (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    revision INTEGER NOT NULL,
    step INTEGER NOT NULL,
    made_at TEXT NOT NULL,
    touched_at TEXT NOT NULL,
    removed_at TEXT
) STRICT;

CREATE TABLE edition_step (
    edition_id INTEGER NOT NULL REFERENCES edition (id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    words TEXT NOT NULL,
    gesture TEXT NOT NULL,
    document_json TEXT NOT NULL,
    made_at TEXT NOT NULL,
    PRIMARY KEY (edition_id, number)
) STRICT, WITHOUT ROWID;

-- What became of each photo's file. mark: of all that it was drawn from.
CREATE TABLE edition_file (
    edition_id INTEGER NOT NULL REFERENCES edition (id) ON DELETE CASCADE,
    entry INTEGER NOT NULL,
    mark TEXT NOT NULL,
    state TEXT NOT NULL CHECK (state IN ('done', 'failed')),
    message TEXT NOT NULL,
    seconds REAL NOT NULL,
    PRIMARY KEY (edition_id, entry)
) STRICT, WITHOUT ROWID;
