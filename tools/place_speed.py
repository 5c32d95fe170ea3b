"""Measure a thing dragged over its sheet: from each move of the pointer to the box and the picture.

python tools/place_speed.py [--steps 60] [--pull]; words, lines, a figure and a photo of the demo's
sheets, two seconds each, moved, or pulled larger by a corner; prints median and 95th percentile of
both, and how long after the pointer went up it had settled.
"""

import argparse
import tempfile

from brush_speed import figures, pointer
from selenium.webdriver.common.by import By

from browser import chromium, served
from screenshots import CAN, FAIR, PACKET, PEARS, SEEDS, SETTLED, bench_of, until

# What is dragged: sheets of the demo, and their plates by number.
THINGS = {FAIR: (2, 3, 4), PEARS: (1,), SEEDS: (4,), PACKET: (2, 3), CAN: (1,)}

PLACE = pointer(
    ".place-body",
    "box.width / 2 + 40 * Math.sin(k / 6)",
    "box.height / 2 + 50 * (1 - Math.cos(k / 6))",
    # What lies on the sheet is asked for as it moves.
    "note()",
)
PULL = pointer(
    ".place-handle",
    "box.width / 2 + 30 * Math.sin(k / 6)",
    "box.height / 2 + 20 * (1 - Math.cos(k / 6))",
    "note()",
)


def main() -> None:
    """Drag each thing over its sheet."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--steps", type=int, default=60)
    parser.add_argument("--pull", action="store_true")
    chosen = parser.parse_args()
    script = PULL if chosen.pull else PLACE
    with (
        tempfile.TemporaryDirectory() as data,
        served("demo", "--data", data) as address,
        chromium() as driver,
    ):
        driver.set_script_timeout(120)
        print(
            f"{'sheet, plate':<14}{'box ms':>10}{'p95':>9}"
            f"{'picture ms':>10}{'p95':>9}{'settled ms':>12}"
        )
        for sheet, plates in THINGS.items():
            bench_of(driver, address, sheet)
            for number in plates:
                disc = f".discs-row .disc:nth-child({number})"
                driver.find_element(By.CSS_SELECTOR, disc).click()
                driver.find_element(By.CSS_SELECTOR, ".run-step").click()
                until(driver, "return document.querySelector('.place-body') !== null")
                until(driver, SETTLED)
                # Once to warm up.
                for _ in range(2):
                    boxes, pictures, settled = driver.execute_async_script(script, chosen.steps)
                of = f"{sheet}, {number}"
                row = f"{of:<14}{figures(boxes)}{figures(pictures)}{settled:>12.0f}"
                print(row, flush=True)


if __name__ == "__main__":
    main()
