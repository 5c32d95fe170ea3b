"""Find how many dots of which size leave the ink that is wished, and write it to tones.json.

python tools/stipple_table.py; takes a quarter of an hour. To be run when
flinz.core.marks.stippling places dots in another way.
"""

import json
from collections.abc import Callable
from pathlib import Path

import numpy as np

import flinz.core.marks
from flinz.core.marks.stippling import tile_cover
from flinz.core.marks.tones import EVEN, Spread, sizes
from flinz.core.marks.vectors import Shape

COVERS = [0.1, 0.2, 0.3, 0.4, 0.45, 0.5, 0.55, 0.6, 0.65, 0.7, 0.75, 0.8, 0.85, 0.9, 0.95]
EVENNESS = [0.0, 0.1, 0.25, 0.5, EVEN, 1.0]
SMALLEST = [0.2, 0.45, 0.7, 1.0]
# In cells of the grid: of 0.11 mm this is dots of 2.1 mm and smaller, down to 0.23 mm.
GAPS = [0.0, 0.06, 0.12, 0.18, 0.24, 0.3, 0.38, 0.46, 0.56]
HALVINGS = 10
# Marks other than dots leave holes however many there are; larger than this they are none.
LARGEST, BLACK = 4.0, 0.997
# Dots as they are first set down, of 0.5 mm: off by a hundredth at most, and left as they were, so
# that earlier sheets draw as they did.
AS_BEFORE = {
    (EVEN, 0.7, 0.24): [0.0, 0.0942, 0.188, 0.2827, 0.3765, 0.4243, 0.4751, 0.5386, 0.5464]
    + [0.564, 0.6128, 0.6938, 0.7495, 0.7554, 0.7368, 0.7681, 1.0],
    (EVEN, 0.7, 0.3): [0.0, 0.0942, 0.188, 0.2827, 0.3765, 0.4253, 0.5015, 0.5151, 0.519]
    + [0.5386, 0.5894, 0.6694, 0.7212, 0.731, 0.7183, 0.7485, 1.0],
}


def halved(low: float, high: float, cover: float, drawn: Callable[[float], float]) -> float:
    """Where from low to high what is drawn leaves so much ink."""
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        if drawn(middle) < cover:
            low = middle
        else:
            high = middle
    return (low + high) / 2


def density_for(cover: float, spread: Spread) -> float:
    """The density whose dots leave so much ink, as one of full-sized dots of the same area."""
    size = float(sizes(np.float32(cover), spread))
    found = halved(0.0, 1.0, cover, lambda density: tile_cover(density, size, cover, spread))
    return round(found * size**2, 4)


def row(spread: Spread) -> list[float]:
    """Densities for all of COVERS, and for bare paper and solid ink."""
    return [0.0, *(density_for(cover, spread) for cover in COVERS), 1.0]


def growth_for(cover: float, density: float, spread: Spread) -> float:
    """How many times larger full-sized marks of a density must be for so much ink."""
    if tile_cover(density, 1.0, cover, spread) >= cover - 0.002:
        return 1.0
    found = halved(1.0, LARGEST, cover, lambda growth: tile_cover(density, growth, cover, spread))
    return round(found, 3)


def marks(spread: Spread) -> list[list[float]]:
    """Densities, and growths, of marks that leave no gap open on purpose."""
    densities = row(spread)
    growths = [
        growth_for(min(cover, BLACK), density, spread)
        for cover, density in zip([*COVERS, 1.0], densities[1:], strict=True)
    ]
    return [densities, [1.0, *growths]]


def main() -> None:
    """Write the table."""
    table = {
        "covers": [0.0, *COVERS, 1.0],
        "evenness": EVENNESS,
        "smallest": SMALLEST,
        "gaps": GAPS,
        "draft": row(Spread(draft=True)),
        "round": [
            [
                [
                    AS_BEFORE.get((even, least, gap)) or row(Spread(gap, even, smallest=least))
                    for gap in GAPS
                ]
                for least in SMALLEST
            ]
            for even in EVENNESS
        ],
        **{
            str(shape): [marks(Spread(0.0, even, shape=shape)) for even in EVENNESS]
            for shape in Shape
            if shape != Shape.ROUND
        },
    }
    path = Path(flinz.core.marks.__file__).with_name("tones.json")
    lines = [f'"{name}": {json.dumps(values)}' for name, values in table.items()]
    path.write_text("{\n" + ",\n".join(lines).replace("], [", "],\n[") + "\n}\n", "utf-8")


if __name__ == "__main__":
    main()
