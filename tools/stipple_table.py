"""Find how dense dots must stand for the ink that is wished, and write it to stippling.json.

python tools/stipple_table.py; takes a minute. To be run when flinz.core.stippling places dots in
another way.
"""

import json
from pathlib import Path

import flinz.core.marks
from flinz.core.marks.stippling import EVEN, Spread, tile_cover

COVERS = [0.1, 0.2, 0.3, 0.4, 0.45, 0.5, 0.55, 0.6, 0.65, 0.7, 0.75, 0.8, 0.85, 0.9, 0.95]
# In cells of the grid: of 0.11 mm this is dots of 2.1 mm and smaller, down to 0.23 mm.
GAPS = [0.0, 0.06, 0.12, 0.18, 0.24, 0.3, 0.38, 0.46, 0.56]
HALVINGS = 10


def density_for(cover: float, spread: Spread) -> float:
    """The density whose dots leave so much ink, by halving."""
    low, high = 0.0, 1.0
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        if tile_cover(middle, cover, spread) < cover:
            low = middle
        else:
            high = middle
    return round((low + high) / 2, 4)


def row(spread: Spread) -> list[float]:
    """Densities for all of COVERS, and for bare paper and solid ink."""
    return [0.0, *(density_for(cover, spread) for cover in COVERS), 1.0]


def main() -> None:
    """Write the table."""
    table = {
        "covers": [0.0, *COVERS, 1.0],
        "gaps": GAPS,
        "draft": row(Spread(draft=True)),
        "uneven": [row(Spread(gap, 0.0)) for gap in GAPS],
        "even": [row(Spread(gap, EVEN)) for gap in GAPS],
    }
    path = Path(flinz.core.marks.__file__).with_name("stippling.json")
    lines = [f'"{name}": {json.dumps(values)}' for name, values in table.items()]
    path.write_text("{\n" + ",\n".join(lines).replace("], [", "],\n[") + "\n}\n", "utf-8")


if __name__ == "__main__":
    main()
