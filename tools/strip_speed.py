"""Measure test strips: from the click on a dial's strip to nine drawings of it on screen.

python tools/strip_speed.py [kinds]; prints for every dial of every look the milliseconds until all
cells show a drawing, drafts counted, and until all are settled.
"""

import argparse
import tempfile

from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.by import By

from browser import chromium, served, until
from drag_speed import dial_labels, open_stage
from screenshots import SETTLED, choose_look

STRIP = """
const [label, done] = arguments;
const began = performance.now();
document.querySelector(`[aria-label='Test strip of ${label}']`).click();
let shown = 0;
function watch(now) {
  const cells = document.querySelectorAll(".strip-cell").length;
  const refused = document.querySelectorAll(".strip-refused").length;
  const drawn = refused + document.querySelectorAll(".strip-proof[data-draft]").length;
  const settled =
    refused + document.querySelectorAll(".strip-proof[data-draft=false]").length;
  if (!shown && cells > 0 && drawn === cells) shown = now - began;
  if (shown && settled === cells) done([shown, now - began]);
  else requestAnimationFrame(watch);
}
requestAnimationFrame(watch);
"""
CLOSED = "return document.querySelectorAll('.strip').length === 0"


def opened(driver: WebDriver, label: str) -> tuple[float, float]:
    """Milliseconds to the last cell's first drawing, and to its settled one."""
    shown, settled = driver.execute_async_script(STRIP, label)
    driver.find_element(By.TAG_NAME, "body").send_keys("\ue00c")
    until(driver, CLOSED)
    until(driver, SETTLED)
    return shown, settled


def main() -> None:
    """Open a strip of every dial of every look."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("kinds", nargs="*", help="looks; without any, all")
    wanted = set(parser.parse_args().kinds)
    with (
        tempfile.TemporaryDirectory() as data,
        served("demo", "--data", data) as address,
        chromium() as driver,
    ):
        driver.set_script_timeout(120)
        print(f"{'look':<16}{'dial':<18}{'drawn ms':>10}{'settled ms':>12}")
        for kind in open_stage(driver, address, "Draw"):
            if wanted and kind not in wanted:
                continue
            choose_look(driver, kind)
            for label in dial_labels(driver):
                shown, settled = opened(driver, label)
                print(f"{kind:<16}{label:<18}{shown:>10.0f}{settled:>12.0f}", flush=True)


if __name__ == "__main__":
    main()
