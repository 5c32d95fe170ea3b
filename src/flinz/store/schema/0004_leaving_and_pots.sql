-- How a sheet left last: what was wished of its file.
CREATE TABLE leaving (
    sheet_id INTEGER PRIMARY KEY REFERENCES sheet (id),
    wish_json TEXT NOT NULL
) STRICT;

-- Inks that somebody mixed and named.
CREATE TABLE pot (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL,
    colour TEXT NOT NULL,
    made_at TEXT NOT NULL
) STRICT;
