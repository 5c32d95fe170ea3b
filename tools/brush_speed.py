"""Measure a brush on the bench: from each move of the pointer to its trail and to the true picture.

python tools/brush_speed.py [--stage Tone] [--spots 4] [--steps 60] [LOOK ...]; with the first verb
of a stage, over the face, for two seconds; prints median and 95th percentile of both, and how long
after the pointer went up the picture had settled.
"""

import argparse
import statistics
import tempfile

from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.by import By

from browser import chromium, served, until
from drag_speed import open_stage, watch
from screenshots import SETTLED, choose_look

LOOKS = (
    "Pencil",
    "Ink line",
    "Threshold",
    "Stipple",
    "Crosshatch",
    "Loose hatch",
    "Contour hatch",
)
# Moves the pointer over something a step every 33 ms, round and round. Its own answer is there once
# a frame has passed; a move is in the picture once an ask that was sent after it is on screen.
POINTER = """
const [steps, done] = arguments;
const layer = document.querySelector("LAYER");
const canvas = document.querySelector(".sheet-canvas");
const box = layer.getBoundingClientRect();
layer.setPointerCapture = () => {};
const at = (k) => ({
  clientX: box.left + ACROSS,
  clientY: box.top + DOWN,
  button: 0, pointerId: 1, pointerType: "mouse", bubbles: true, isPrimary: true,
});
const send = (name, k) => layer.dispatchEvent(new PointerEvent(name, at(k)));
const seen = [], pictures = [], waiting = [];
let moved = 0, lifted = 0;
send("pointerdown", 0);
function move() {
  const began = performance.now();
  moved += 1;
  send("pointermove", moved);
  const note = () => waiting.push({began, ask: Number(canvas.dataset.asked)});
  requestAnimationFrame(() => {
    seen.push(performance.now() - began);
    WHEN;
  });
  if (moved < steps) return setTimeout(move, 33);
  setTimeout(() => { lifted = performance.now(); send("pointerup", moved); settle(); }, 33);
}
function look() {
  const shown = Number(canvas.dataset.ask);
  while (waiting.length && waiting[0].ask <= shown) {
    pictures.push(performance.now() - waiting.shift().began);
  }
  if (pictures.length < steps) requestAnimationFrame(look);
}
function settle() {
  const saved = document.querySelector(".saving").dataset.saving === "saved";
  const is = canvas.dataset.ask === canvas.dataset.asked && canvas.dataset.draft === "false";
  if (saved && is && pictures.length === steps && performance.now() - lifted > 50) {
    return done([seen, pictures, performance.now() - lifted]);
  }
  requestAnimationFrame(settle);
}
move();
requestAnimationFrame(look);
"""


def pointer(layer: str, across: str, down: str, when: str) -> str:
    """The script that moves over what a selector finds; from its corner, in pixels, by the step k.

    when: by which frame a move has been asked for. Takes the number of steps; answers the times to
    its own answer and to the picture, and to the settled picture after the pointer went up, ms.
    """
    script = POINTER.replace("LAYER", layer).replace("ACROSS", across)
    return script.replace("DOWN", down).replace("WHEN", when)


BRUSH = pointer(
    ".paint-layer",
    "box.width * (0.48 + 0.07 * Math.cos(k / 6))",
    "box.height * (0.46 + 0.09 * Math.sin(k / 6))",
    # The stroke goes to the page's state with one frame, and is asked for with the next.
    "requestAnimationFrame(note)",
)


def figures(times: list[float]) -> str:
    """Median and 95th percentile in milliseconds."""
    times = sorted(times)
    return f"{statistics.median(times):>10.0f}{times[int(0.95 * (len(times) - 1))]:>9.0f}"


def brushed(driver: WebDriver, stage: str, look: str, steps: int) -> None:
    """Print a row for a look."""
    driver.find_element(By.XPATH, "//nav//button[.//strong[text()='Draw']]").click()
    until(driver, SETTLED)
    if driver.find_elements(By.CSS_SELECTOR, ".paint-layer"):
        driver.find_element(By.XPATH, "//button[normalize-space()='Dials']").click()
    choose_look(driver, look)
    path = f"//nav//button[.//strong[starts-with(normalize-space(.), '{stage}')]]"
    driver.find_element(By.XPATH, path).click()
    until(driver, SETTLED)
    if not driver.find_elements(By.CSS_SELECTOR, ".paint-layer"):
        hand = "//button[starts-with(normalize-space(.), 'Hand')]"
        driver.find_element(By.XPATH, hand).click()
    until(driver, "return document.querySelector('.paint-layer') !== null")
    # Once to warm up: the plane of the stage, and what comes after it.
    for _ in range(2):
        trails, pictures, settled = driver.execute_async_script(BRUSH, steps)
    print(f"{look:<14}{figures(trails)}{figures(pictures)}{settled:>12.0f}", flush=True)


def main() -> None:
    """Brush over the face with every look."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--stage", default="Tone")
    parser.add_argument("--steps", type=int, default=60)
    parser.add_argument("--spots", type=int, default=4, choices=range(5))
    parser.add_argument("looks", nargs="*", default=LOOKS)
    chosen = parser.parse_args()
    with (
        tempfile.TemporaryDirectory() as data,
        served("demo", "--data", data) as address,
        chromium() as driver,
    ):
        driver.set_script_timeout(120)
        watch(driver, address, chosen.spots)
        open_stage(driver, address, "Draw")
        print(f"{'look':<14}{'trail ms':>10}{'p95':>9}{'true ms':>10}{'p95':>9}{'settled ms':>12}")
        for look in chosen.looks:
            brushed(driver, chosen.stage, look, chosen.steps)


if __name__ == "__main__":
    main()
