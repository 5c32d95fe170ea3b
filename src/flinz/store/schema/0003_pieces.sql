CREATE TABLE piece (
    id TEXT PRIMARY KEY,
    bytes BLOB NOT NULL,
    size INTEGER NOT NULL,
    touched_at TEXT NOT NULL
) STRICT;

-- So that how much there is can be summed without reading what there is.
CREATE INDEX piece_size ON piece (size);
