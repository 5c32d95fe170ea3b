"""Measure the tracing with thousands of shapes: pictures a second as the sheet and shapes move, and
from a colour that is pressed to a shape that has it.

python tools/shape_speed.py [--shapes 2000] [--seconds 2]
"""

import argparse
import io
import tempfile

import cv2
import httpx2
import numpy as np
from PIL import Image
from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement

from browser import begun, chromium, served, until

# Moves a pressed pointer with every picture of the screen; how many there were, and how long.
MOVE = """
const [seconds, x, y, button, done] = arguments;
const bed = document.querySelector(".shape-bed");
const box = bed.getBoundingClientRect();
const send = (kind, dx, dy) => (kind === "pointerdown" ? bed.querySelector("canvas") : bed)
    .dispatchEvent(new PointerEvent(kind, {
        bubbles: true, pointerId: 1, button, isPrimary: true,
        clientX: box.left + x + dx, clientY: box.top + y + dy }));
bed.setPointerCapture = () => undefined;
const times = [];
let begun;
send("pointerdown", 0, 0);
function step(now) {
    begun ??= now;
    times.push(now);
    const at = (now - begun) / 1000;
    send("pointermove", 120 * Math.sin(at * 3), 90 * Math.sin(at * 2));
    if (at < seconds) requestAnimationFrame(step);
    else {
        send("pointercancel", 0, 0);
        done(times.slice(1).map((each, k) => each - times[k]));
    }
}
requestAnimationFrame(step);
"""
# From a press on a colour to a pixel of the shape that has it.
RECOLOUR = """
const [x, y, name, done] = arguments;
const canvas = document.querySelector(".shape-bed canvas");
const seen = () => canvas.getContext("2d").getImageData(x, y, 1, 1).data.join();
const before = seen();
const begun = performance.now();
document.querySelector(`[aria-label='Colour ${name}']`).click();
function look() {
    if (seen() !== before) done(performance.now() - begun);
    else requestAnimationFrame(look);
}
requestAnimationFrame(look);
"""


def spotted(shapes: int) -> bytes:
    """A PNG whose threshold has about so many shapes, all apart."""
    across = round((shapes * 4 / 3) ** 0.5)
    down = round(shapes / across)
    values = np.full((down * 24, across * 24), 235, np.uint8)
    chance = np.random.default_rng(1)
    for row in range(down):
        for column in range(across):
            middle = column * 24 + 12, row * 24 + 12
            size = int(chance.integers(5, 11)), int(chance.integers(4, 9))
            cv2.ellipse(values, middle, size, int(chance.integers(180)), 0, 360, 20, -1)
    out = io.BytesIO()
    Image.fromarray(values).save(out, "PNG")
    return out.getvalue()


def nearest_middle(driver: WebDriver, bed: WebElement) -> tuple[float, float]:
    """Choose a shape of ink near the middle of the bed, come close; where it lies in the bed."""
    for step in range(0, 60, 4):
        ActionChains(driver).move_to_element_with_offset(bed, step, step // 2).click().perform()
        if "1 shape" in driver.find_element(By.CSS_SELECTOR, "[data-testid=chosen]").text:
            break
    for _ in range(7):
        bed.send_keys("+")
    x, y = driver.execute_script(
        "const box = document.querySelector('.chosen-box').getBoundingClientRect();"
        "const bed = document.querySelector('.shape-bed').getBoundingClientRect();"
        "return [box.left + box.width / 2 - bed.left, box.top + box.height / 2 - bed.top]"
    )
    return float(x), float(y)


def told(words: str, times: list[float]) -> None:
    """A line of pictures a second."""
    middle, slow = np.percentile(times, [50, 95])
    print(f"{words:<34}{1000 / middle:>8.0f} a second{slow:>10.0f} ms p95", flush=True)


def main() -> None:
    """Pan, drag one, drag a thousand, recolour."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--shapes", type=int, default=2000)
    parser.add_argument("--seconds", type=float, default=2.0)
    chosen = parser.parse_args()
    with (
        tempfile.TemporaryDirectory() as data,
        served("demo", "--data", data) as address,
        chromium() as driver,
        httpx2.Client(base_url=address, timeout=120) as web,
    ):
        driver.set_script_timeout(20)
        sheet = begun(web, spotted(chosen.shapes), "threshold")
        driver.get(f"{address}/sheets/{sheet['id']}/tracing")
        until(driver, "return Number(document.querySelector('.shape-bed')?.dataset.shapes) > 0")
        bed: WebElement = driver.find_element(By.CSS_SELECTOR, ".shape-bed")
        print(f"{bed.get_attribute('data-shapes')} shapes")
        for _ in range(3):
            bed.send_keys("+")
        told("the sheet", driver.execute_async_script(MOVE, chosen.seconds, 400, 300, 1))
        bed.send_keys("w")
        x, y = nearest_middle(driver, bed)
        told("one shape", driver.execute_async_script(MOVE, chosen.seconds, x, y, 0))
        for name in ("Poppy", "Slate", "Brick"):
            taken = driver.execute_async_script(RECOLOUR, x, y, name)
            print(f"{name:<34}{taken:>8.0f} ms", flush=True)
        driver.find_element(By.CSS_SELECTOR, ".shape-lots button").click()
        told("a whole lot", driver.execute_async_script(MOVE, chosen.seconds, x, y, 0))
        print(driver.find_element(By.CSS_SELECTOR, "[data-testid=chosen]").text)


if __name__ == "__main__":
    main()
