"""Measure a drag on the bench: from each input event to the new picture on screen.

python tools/drag_speed.py [--steps 60] [--spots 4]; prints median and 95th percentile for every
dial, with so many watch spots on the face.
"""

import argparse
import statistics
import tempfile

from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.by import By

from browser import chromium, served, until
from screenshots import SETTLED, choose_look, open_kinds

# Turns one slider a step every 33 ms, as a hand does, and notes when a picture of that position
# or a later one is on screen. Positions that a newer one overtook count until that one shows.
DRAG = """
const [label, steps, done] = arguments;
const canvas = document.querySelector(".sheet-canvas");
const groups = [...document.querySelectorAll(".dial")];
const group = groups.find((g) => g.querySelector("label")?.innerText === label);
const slider = group.querySelector("input[type=range]");
const put = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set;
const low = Number(slider.min), high = Number(slider.max);
const waiting = [], times = [];
let turned = 0;
slider.dispatchEvent(new PointerEvent("pointerdown", {bubbles: true}));
function turn() {
  const at = performance.now();
  put.call(slider, low + (high - low) * (0.3 + 0.4 * turned / steps));
  slider.dispatchEvent(new Event("input", {bubbles: true}));
  // The ask that carries this position has its number once the page has rendered.
  setTimeout(() => waiting.push({at, ask: Number(canvas.dataset.asked)}), 0);
  turned += 1;
  if (turned < steps) setTimeout(turn, 33);
}
function watch(now) {
  const shown = Number(canvas.dataset.ask);
  while (waiting.length && waiting[0].ask <= shown) {
    times.push(performance.now() - waiting.shift().at);
  }
  if (times.length < steps) requestAnimationFrame(watch);
  else done(times);
}
turn();
requestAnimationFrame(watch);
"""


# Eyes, mouth and hat band: shares of the sheet.
SPOTS = [
    {"left": 0.36, "top": 0.33, "right": 0.46, "bottom": 0.43},
    {"left": 0.49, "top": 0.33, "right": 0.59, "bottom": 0.43},
    {"left": 0.40, "top": 0.52, "right": 0.55, "bottom": 0.64},
    {"left": 0.42, "top": 0.08, "right": 0.62, "bottom": 0.24},
]
WATCH = """
const [watch, done] = arguments;
const path = "/api/sheets/3";
fetch(path).then((r) => r.json()).then((record) => fetch(path, {
  method: "PUT",
  headers: {"Content-Type": "application/json"},
  body: JSON.stringify({base: record.revision, sheet: {...record.sheet, watch}, words: "Watch"}),
})).then(() => done());
"""
LABELS = """
return [...document.querySelectorAll(".dial:has(input[type=range]) label")].map((l) => l.innerText)
"""
KINDS = "return [...document.querySelectorAll('.kind')].map((kind) => kind.innerText.trim())"


def dragged(driver: WebDriver, label: str, steps: int) -> tuple[float, float]:
    """Median and 95th percentile in milliseconds."""
    times = sorted(driver.execute_async_script(DRAG, label, steps))
    until(driver, SETTLED)
    return statistics.median(times), times[int(0.95 * (len(times) - 1))]


def open_stage(driver: WebDriver, address: str, stage: str) -> list[str]:
    """Open the sheet that is dragged on at a stage; the kinds it offers."""
    driver.get(f"{address}/sheets/3")
    until(driver, SETTLED)
    driver.find_element(By.XPATH, f"//nav//button[.//strong[text()='{stage}']]").click()
    until(driver, SETTLED)
    if driver.find_elements(By.CSS_SELECTOR, ".kind-row"):
        open_kinds(driver)
    return driver.execute_script(KINDS)


def dial_labels(driver: WebDriver) -> list[str]:
    """The dials of the stage, those under headings too."""
    driver.execute_script("document.querySelectorAll('details').forEach((d) => (d.open = true))")
    return driver.execute_script(LABELS)


def drag_every_dial(driver: WebDriver, stage: str, kind: str, steps: int) -> None:
    """Print a row for each dial that shows."""
    for label in dial_labels(driver):
        median, late = dragged(driver, label, steps)
        print(f"{stage:<9}{kind:<16}{label:<18}{median:>10.0f}{late:>9.0f}", flush=True)


def watch(driver: WebDriver, address: str, spots: int) -> None:
    """Pin details of the face on the sheet to be dragged on."""
    driver.get(address)
    driver.execute_async_script(WATCH, SPOTS[:spots])


def main() -> None:
    """Drag every dial of every stage and kind."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--steps", type=int, default=60)
    parser.add_argument("--spots", type=int, default=0, choices=range(5))
    parser.add_argument("kinds", nargs="*", help="stages or looks; without any, all")
    chosen = parser.parse_args()
    steps, wanted = chosen.steps, set(chosen.kinds)
    with (
        tempfile.TemporaryDirectory() as data,
        served("demo", "--data", data) as address,
        chromium() as driver,
    ):
        driver.set_script_timeout(120)
        print(f"{'stage':<9}{'kind':<16}{'dial':<18}{'median ms':>10}{'p95 ms':>9}")
        for stage in ("Draw", "Tone", "Smooth", "Clean", "Ink", "Paper"):
            if wanted and stage != "Draw" and stage not in wanted:
                continue
            watch(driver, address, chosen.spots)
            kinds = open_stage(driver, address, stage)
            if not kinds:
                drag_every_dial(driver, stage, "", steps)
            for kind in kinds:
                if wanted and not wanted & {kind, stage}:
                    continue
                choose_look(driver, kind)
                drag_every_dial(driver, stage, kind, steps)


if __name__ == "__main__":
    main()
