"""Write the tables of docs/quality.md anew from a run's rows; its words stay.

python tools/quality_page.py rows.json, where `flinz quality --json rows.json` wrote them.
"""

import datetime
import json
import re
import sys
from collections.abc import Callable
from functools import partial
from pathlib import Path

PAGE = Path(__file__).parents[1] / "docs" / "quality.md"
TABLE = re.compile(r"(?:^\|.*\n)+", re.MULTILINE)
# By the heading that a table stands under, a pattern of its rows' names: photo, look or recipe.
GRIDS = {
    "Proof and export": r"proof = export, (\w+): (.+)",
    "Half-size photos": r"scale-free, (\w+): (.+)",
    "Small exports": r"export of ([\d,]+ px) = a larger one shrunk: (.+)",
    "Placed on the paper: as upright": r"(.+), upright, transformed, \w+: (.+)",
    "Placed on the paper: proof and export": r"(.+), proof = export, \w+: (.+)",
    "Placed on the paper: half-size photos": r"(.+), scale-free, \w+: (.+)",
    "Lines": r"parts a 1,000 mm of line after Clean, (\w+): (.+)",
    "Crumbs of line": r"ink in parts under 0.1 mm², (\w+): (.+)",
    "Thin ink": r"ink thinner than 0.1 mm, (\w+): (.+)",
    "Narrow gaps": r"gaps narrower than 0.1 mm, (\w+): (.+)",
}
# Of cutouts what their first two columns are, what one over hair besides comes to, and the rest.
CUT = ("overlap after 8 strokes", "error of alpha in the band")
OTHERWISE = ("overlap with no stroke", "overlap after 8 that only correct")
HAIRED = ("overlap with one over hair besides", "error of alpha with one over hair besides")


def shown(row: dict, figure: str = ".4g") -> str:
    """A figure, marked where it does not hold."""
    return f"{row['figure']:{figure}}" + ("" if row["holds"] else " over")


def bound(row: dict) -> str:
    """What a figure must be."""
    if row["bound"] is None:
        return ""
    return f"{'≥' if row['sense'] == '>=' else '≤'} {row['bound']:g}"


def laid_out(heads: list[str], lines: list[list[str]]) -> str:
    """A table of the page."""
    # A head of no words takes no room.
    rows = [" | ".join(heads).lstrip(), *(" | ".join(line) for line in lines)]
    first, *rest = (f"| {row} |\n" for row in rows)
    return "".join([first, "|" + "---|" * len(heads) + "\n", *rest])


def by_name(rows: list[dict], pattern: str) -> dict[str, dict[str, dict]]:
    """Rows by the second group of their names, and by the first."""
    lines: dict[str, dict[str, dict]] = {}
    for row in rows:
        if found := re.fullmatch(pattern, row["name"]):
            lines.setdefault(found[2], {})[found[1]] = row
    return lines


def grid(rows: list[dict], pattern: str) -> str:
    """A line for each look or recipe, a column for each photo."""
    lines = by_name(rows, pattern)
    photos = list(next(iter(lines.values())))
    return laid_out(
        ["", *photos, "must be"],
        [
            [name, *(shown(found[photo]) for photo in photos), bound(found[photos[0]])]
            for name, found in lines.items()
        ],
    )


def charts(rows: list[dict]) -> str:
    """A line for each row before the photos'."""
    first = next(k for k, row in enumerate(rows) if row["name"].startswith("proof ="))
    return laid_out(
        ["figure", "measured", "must be"],
        [[row["name"], shown(row), bound(row)] for row in rows[:first]],
    )


def steadiness(rows: list[dict]) -> str:
    """A line for each look, with the dial that moves most."""
    found = by_name(rows, "(steadiness, worst dial): (.+)")
    return laid_out(
        ["look and dial", "measured", "at most"],
        [[name, shown(row), bound(row)] for name, own in found.items() for row in own.values()],
    )


def cutouts(rows: list[dict]) -> str:
    """A line for each scene."""
    lines = []
    for name, found in by_name(rows, "cutout, (.+): (.+)").items():
        first, others = ([shown(found[key]) for key in keys] for keys in (CUT, OTHERWISE))
        haired = ", ".join(f"{found[key]['figure']:.3f}" for key in HAIRED if key in found)
        lines.append([name, *first, haired, *others, bound(found[CUT[0]])])
    return laid_out(["", *CUT, "with one over hair besides", *OTHERWISE, "must be"], lines)


def tracings(rows: list[dict]) -> str:
    """A line for each drawing of each photo."""
    lines = []
    for name, found in by_name(rows, r"tracing, ([^,]+(?:, [^,]+)?), (\w+: .+)").items():
        line = [name]
        for row, figure in zip(found.values(), (".4f", ".2f", ".2f"), strict=True):
            line += [shown(row, figure), bound(row)]
        lines.append(line)
    heads = ["ink that differs", "mm a curve", "farthest"]
    return laid_out(["", *(head for each in heads for head in (each, "must be"))], lines)


SECTIONS: dict[str, Callable[[list[dict]], str]] = {
    "Charts": charts,
    **{heading: partial(grid, pattern=pattern) for heading, pattern in GRIDS.items()},
    "Cutouts": cutouts,
    "Tracings": tracings,
    "Steadiness": steadiness,
}


def main() -> None:
    """Put the first table under each heading in place."""
    rows = json.loads(Path(sys.argv[1]).read_text())
    today = datetime.date.today()
    page = re.sub(
        r"Measured on .+? by `make quality`",
        f"Measured on {today.day} {today:%B %Y} by `make quality`",
        PAGE.read_text(),
    )
    for heading, table in SECTIONS.items():
        at = page.index(f"\n## {heading}\n")
        old = TABLE.search(page, at)
        if old is None:
            sys.exit(f"There is no table under {heading!r}.")
        page = page[: old.start()] + table(rows) + page[old.end() :]
    PAGE.write_text(page)


if __name__ == "__main__":
    main()
