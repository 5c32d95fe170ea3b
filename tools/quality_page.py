"""Write the tables of docs/quality.md anew from a run's rows; the words at its end stay.

python tools/quality_page.py rows.json, where `flinz quality --json rows.json` wrote them.
"""

import datetime
import json
import re
import sys
from pathlib import Path

PAGE = Path(__file__).parents[1] / "docs" / "quality.md"
KEPT_FROM = "## Where a figure and the eye disagree"
HEAD = """# Quality

Measured on {date} by `make quality` (`flinz quality --json FILE` writes the same rows): charts
and four of the demo's photographs, the face, the furry edge, the dark subject and the even one.
*Over* marks what does not hold.
"""
# Heading, what it means, and a pattern of its rows' names: photo, look or recipe.
TABLES = (
    (
        "Proof and export",
        "Likeness (SSIM) of an export of 2,800 px shrunk to 700 px and the proof of 700 px.",
        r"proof = export, (\w+): (.+)",
    ),
    (
        "Half-size photos",
        "Likeness of the drawings of a photo and of its half-size copy, at 700 px.",
        r"scale-free, (\w+): (.+)",
    ),
    (
        "Small exports",
        "Likeness of an export of so many pixels and one three times as large, shrunk: the worst\n"
        "of the four photos. Where marks stand closer than two pixels there is only tone, and no\n"
        "bound.",
        r"export of ([\d,]+ px) = a larger one shrunk: (.+)",
    ),
    *(
        (
            f"Placed on the paper: {what}",
            f"{meaning} Within the box, on the face, 4.55 px a mm on the paper.",
            rf"(.+), {pattern}, \w+: (.+)",
        )
        for what, pattern, meaning in (
            (
                "as upright",
                "upright, transformed",
                "Likeness of the placed proof and the upright drawing, made large and transformed\n"
                "by scikit-image.",
            ),
            ("proof and export", "proof = export", "As above, of placed drawings."),
            ("half-size photos", "scale-free", "As above, of placed drawings."),
        )
    ),
    (
        "Lines",
        "Separate pieces for each 1,000 mm of line, after Clean with specks of 0.3 mm².",
        r"parts a 1,000 mm of line after Clean, (\w+): (.+)",
    ),
    (
        "Crumbs of line",
        "Share of the ink in pieces under 0.1 mm².",
        r"ink in parts under 0.1 mm², (\w+): (.+)",
    ),
    (
        "Thin ink",
        "Share of the ink that is thinner than 0.1 mm, at 30 px/mm in the middle of the sheet.",
        r"ink thinner than 0.1 mm, (\w+): (.+)",
    ),
    (
        "Narrow gaps",
        "Share of the bare paper that lies in gaps narrower than 0.1 mm.",
        r"gaps narrower than 0.1 mm, (\w+): (.+)",
    ),
    (
        "Cutouts",
        "Against the true masks of the rendered scenes, and of subjects put on other grounds:\n"
        "overlap (intersection over union), and the mean error of alpha within four pixels of\n"
        "the edge. Strokes are a script's: four along the middles of subject and backdrop, then\n"
        "four where most is wrong; or, that only correct, eight where most is. The bound is that\n"
        "of the first.",
        r"cutout, (.+): (.+)",
    ),
)
STEADY = (
    "Share of the pixels at 1,400 px that turn from black to white or back when a dial moves by\n"
    "1 % of its track, for the dial of each look that moves most."
)


def shown(row: dict) -> str:
    """A figure, marked where it does not hold."""
    return f"{row['figure']:.4g}" + ("" if row["holds"] else " over")


def bound(row: dict) -> str:
    """What a figure must be."""
    return (
        "" if row["bound"] is None else f"{'≥' if row['sense'] == '>=' else '≤'} {row['bound']:g}"
    )


def table(rows: list[dict], pattern: str) -> str:
    """A line for each look or recipe, a column for each photo."""
    lines: dict[str, dict[str, dict]] = {}
    for row in rows:
        if found := re.fullmatch(pattern, row["name"]):
            lines.setdefault(found[2], {})[found[1]] = row
    photos = list(next(iter(lines.values())))
    text = f"| | {' | '.join(photos)} | must be |\n|---|{'---|' * len(photos)}---|\n"
    for name, by_photo in lines.items():
        figures = " | ".join(shown(by_photo[photo]) for photo in photos)
        text += f"| {name} | {figures} | {bound(by_photo[photos[0]])} |\n"
    return text


def listed(rows: list[dict], heads: str) -> str:
    """A line for each row."""
    lines = [f"| {row['name']} | {shown(row)} | {bound(row)} |\n" for row in rows]
    return f"| {heads} |\n|---|---|---|\n" + "".join(lines)


def main() -> None:
    """Write the page."""
    rows = json.loads(Path(sys.argv[1]).read_text())
    today = datetime.date.today()
    parts = [HEAD.format(date=f"{today.day} {today:%B %Y}"), "## Charts\n"]
    charts = rows[: next(k for k, row in enumerate(rows) if row["name"].startswith("proof ="))]
    parts.append(listed(charts, "figure | measured | must be"))
    for heading, meaning, pattern in TABLES:
        parts += [f"## {heading}\n", f"{meaning}\n", table(rows, pattern)]
    steady = [row for row in rows if row["name"].startswith("steadiness")]
    parts += ["## Steadiness\n", f"{STEADY}\n"]
    steady = [{**row, "name": row["name"].split(": ")[1]} for row in steady]
    parts.append(listed(steady, "look and dial | measured | at most"))
    old = PAGE.read_text()
    PAGE.write_text("\n".join(parts) + "\n" + old[old.index(KEPT_FROM) :])


if __name__ == "__main__":
    main()
