"""Measure a thing moved over its sheet: from each move of the pointer to the box and the picture.

python tools/place_speed.py [--steps 60] [--by corner]; words, lines, a figure and a photo of the
demo's sheets, two seconds each, moved, pulled by a corner or a side, or turned; prints median and
95th percentile of both, how long after the pointer went up it had settled, and how much of the
processor others had taken away meanwhile, which figures of a shared machine are to be read with.
"""

import argparse
import tempfile
from collections.abc import Callable
from time import perf_counter

import psutil
from brush_speed import figures, pointer
from selenium.webdriver.common.by import By

from browser import chromium, served, until
from screenshots import CAN, FAIR, PACKET, PEARS, SEEDS, SETTLED, bench_of

# What is dragged: sheets of the demo, and their plates by number.
THINGS = {FAIR: (2, 3, 4), PEARS: (1,), SEEDS: (4,), PACKET: (2, 3), CAN: (1,)}

# What is taken hold of, by the words of the command, and where it goes from its middle, pixels.
HOLDS = {
    "body": (".place-body", "40 * Math.sin(k / 6)", "50 * (1 - Math.cos(k / 6))"),
    "corner": (".place-handle", "30 * Math.sin(k / 6)", "20 * (1 - Math.cos(k / 6))"),
    "side": (".place-handle[aria-label$='right side']", "30 * Math.sin(k / 6)", "0"),
    "turn": (".place-turn", "60 * Math.sin(k / 6)", "0"),
}


def watched() -> Callable[[], float]:
    """Begin to watch what others take of the processors; the answer tells it so far, in percent."""
    began, had = perf_counter(), getattr(psutil.cpu_times(), "steal", 0.0)

    def taken() -> float:
        stolen = getattr(psutil.cpu_times(), "steal", 0.0) - had
        return 100 * stolen / (perf_counter() - began) / psutil.cpu_count()

    return taken


def main() -> None:
    """Drag each thing over its sheet."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--steps", type=int, default=60)
    parser.add_argument("--by", choices=HOLDS, default="body")
    chosen = parser.parse_args()
    hold, across, down = HOLDS[chosen.by]
    # What lies on the sheet is asked for as it moves.
    script = pointer(hold, f"box.width / 2 + {across}", f"box.height / 2 + {down}", "note()")
    with (
        tempfile.TemporaryDirectory() as data,
        served("demo", "--data", data) as address,
        chromium() as driver,
    ):
        driver.set_script_timeout(120)
        print(
            f"{'sheet, plate':<14}{'box ms':>10}{'p95':>9}"
            f"{'picture ms':>10}{'p95':>9}{'settled ms':>12}{'taken %':>9}"
        )
        for sheet, plates in THINGS.items():
            bench_of(driver, address, sheet)
            for number in plates:
                disc = f".discs-row .disc:nth-child({number})"
                driver.find_element(By.CSS_SELECTOR, disc).click()
                driver.find_element(By.CSS_SELECTOR, ".run-step").click()
                until(driver, "return document.querySelector('.place-body') !== null")
                until(driver, SETTLED)
                # Photos, words and lines by hand have no sides to pull by.
                if not driver.find_elements(By.CSS_SELECTOR, hold):
                    continue
                # Once to warm up.
                for _ in range(2):
                    taken = watched()
                    boxes, pictures, settled = driver.execute_async_script(script, chosen.steps)
                of = f"{sheet}, {number}"
                row = f"{of:<14}{figures(boxes)}{figures(pictures)}{settled:>12.0f}{taken():>9.0f}"
                print(row, flush=True)


if __name__ == "__main__":
    main()
