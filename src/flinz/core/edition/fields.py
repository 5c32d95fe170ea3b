"""What is known of a photo, by field, and texts that take words from it: "{title}, {year}"."""

import csv
import io
import re
from collections.abc import Mapping
from functools import cached_property
from pathlib import PurePath

from pydantic import Field

from flinz.core.dial import Settings
from flinz.errors import DocumentError

# Of a table: bytes of its file, lines, columns, and characters of a cell.
MAX_BYTES, MAX_LINES, MAX_COLUMNS, MAX_CELL = 5_000_000, 5000, 60, 2000
DELIMITERS = ",;\t"
IN_BRACES = re.compile(r"\{([^{}]*)\}")
# What is known of every photo.
OF_PHOTO = ("title", "caption", "number")


class Table(Settings):
    """A table of words. The first column names the photo, by its title or its file's name."""

    columns: list[str] = Field(min_length=1, max_length=MAX_COLUMNS)
    lines: list[list[str]] = Field(max_length=MAX_LINES)

    @cached_property
    def _by_name(self) -> dict[str, list[str]]:
        """The first line for each name, as it stands and without a file's suffix."""
        found: dict[str, list[str]] = {}
        for line in self.lines:
            for name in (line[0], PurePath(line[0]).stem):
                found.setdefault(_plain(name), line)
        return found

    def line_for(self, title: str) -> dict[str, str] | None:
        """The words of a photo by column; None where no line names it."""
        line = self._by_name.get(_plain(title))
        return None if line is None else dict(zip(self.columns, line, strict=True))


def table_of(data: bytes) -> Table:
    """A table from a CSV file: UTF-8 or Latin-1, parted by commas, semicolons or tabs.

    Raises DocumentError with a sentence if it has no columns, or a line of other columns.
    """
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("latin-1")
    first = text.partition("\n")[0]
    delimiter = max(DELIMITERS, key=first.count)
    try:
        rows = list(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True))
    except csv.Error as error:
        raise DocumentError(f"This is no table of words (CSV): {error}.") from error
    rows = [[cell.strip() for cell in row] for row in rows if any(cell.strip() for cell in row)]
    if not rows or len(rows[0]) < 2:
        raise DocumentError(
            "A table of words needs a first line that names its columns: first the photo, "
            "then at least one more, parted by commas."
        )
    columns = [name.lower() for name in rows[0]]
    if "" in columns or len(set(columns)) < len(columns):
        raise DocumentError("Two columns of this table have one name, or one has none.")
    if len(columns) > MAX_COLUMNS or len(rows) - 1 > MAX_LINES:
        raise DocumentError(
            f"This table is too large: {MAX_LINES} lines of {MAX_COLUMNS} columns are allowed."
        )
    for number, row in enumerate(rows[1:], start=2):
        if len(row) != len(columns):
            raise DocumentError(
                f"Line {number} of this table has {len(row)} cells; its first line has "
                f"{len(columns)}."
            )
        if max(map(len, row)) > MAX_CELL:
            raise DocumentError(f"A cell in line {number} has more than {MAX_CELL} characters.")
    return Table(columns=columns, lines=rows[1:])


def fields_of(title: str, caption: str, number: str, table: Table | None) -> dict[str, str]:
    """All that is known of a photo, by field; a column of the table comes before what it says."""
    known = {"title": title, "caption": caption, "number": number}
    return known | ((table.line_for(title) if table else None) or {})


def fields_there_are(table: Table | None) -> list[str]:
    """The fields that a photo can have: those of every photo, and the columns of the table."""
    return list(dict.fromkeys([*OF_PHOTO, *(table.columns if table else ())]))


def check_fields(template: str, table: Table | None) -> None:
    """Raise DocumentError with a sentence where a text names a field that no photo can have."""
    known = fields_there_are(table)
    for name in map(str.strip, IN_BRACES.findall(template)):
        if name.lower() not in known:
            raise DocumentError(f"There is no {{{name}}} here; there are {', '.join(known)}.")


def filled(template: str, fields: Mapping[str, str], table: Table | None = None) -> str:
    """A text with what stands in braces taken from the fields.

    Raises DocumentError with a sentence where there is no such field: where the table has that
    column, it has no line for the photo.
    """
    check_fields(template, table)

    def word(found: re.Match[str]) -> str:
        name = found[1].strip().lower()
        if name not in fields:
            raise DocumentError(f"The table has no line for {fields['title']!r}.")
        return fields[name]

    return IN_BRACES.sub(word, template)


def _plain(name: str) -> str:
    return " ".join(name.replace("_", " ").lower().split())
