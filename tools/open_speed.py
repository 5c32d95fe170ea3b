"""Measure choosing: from a click on the shelf to what it leads to.

python tools/open_speed.py prints, in milliseconds, for every sheet when its last picture and its
first drawing are on the bed, and for every photo when the contact sheet has 1, 24 and all
drawings.
"""

import tempfile

from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By

from browser import chromium, served, until
from screenshots import SETTLED

# Looks at every frame from the next click on, and notes when each sight is first seen.
WATCH = """
window.seen = {};
document.addEventListener("click", () => {
  const began = performance.now();
  const sights = {
    last: () => document.querySelector("img.bed-last")?.naturalWidth > 0,
    drawn: () => Number(document.querySelector(".sheet-canvas")?.dataset.ask) > 0,
    one: () => proofs() >= 1,
    many: () => proofs() >= 24,
    all: () => proofs() > 0 && document.querySelector(".contact-line").dataset.all <= proofs(),
  };
  const proofs = () => document.querySelectorAll(".contact-proof[data-ask]").length;
  function look() {
    const now = performance.now() - began;
    for (const [name, sight] of Object.entries(sights)) {
      if (!(name in window.seen) && sight()) window.seen[name] = Math.round(now);
    }
    requestAnimationFrame(look);
  }
  requestAnimationFrame(look);
}, {once: true, capture: true});
"""
SHELF = "return document.querySelectorAll('.photo-card img').length > 0"


def chosen(
    driver: WebDriver, address: str, css: str, place: int, until_seen: str
) -> dict[str, int]:
    """Click one card of the shelf as a hand does; when each sight was first seen."""
    driver.get(address)
    until(driver, SHELF)
    driver.execute_script(WATCH)
    card = driver.find_elements(By.CSS_SELECTOR, css)[place]
    driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", card)
    ActionChains(driver, duration=100).move_to_element(card).click().perform()
    until(driver, f"return '{until_seen}' in window.seen")
    return driver.execute_script("return window.seen")


def main() -> None:
    """Open every sheet, then a contact sheet of every photo, twice: cold and warm."""
    with (
        tempfile.TemporaryDirectory() as data,
        served("demo", "--data", data) as address,
        chromium() as driver,
    ):
        driver.get(address)
        until(driver, SHELF)
        sheets = len(driver.find_elements(By.CSS_SELECTOR, ".sheet-card"))
        photos = len(driver.find_elements(By.CSS_SELECTOR, ".photo-card"))
        for round_name in ("cold", "warm"):
            for place in range(sheets):
                seen = chosen(driver, address, ".sheet-card > a", place, "drawn")
                until(driver, SETTLED)
                last = seen.get("last", "-")
                print(f"{round_name} sheet {place + 1}: last {last}, drawn {seen['drawn']}")
            for place in range(photos):
                seen = chosen(driver, address, ".photo-card > a", place, "all")
                counts = [seen[name] for name in ("one", "many", "all")]
                print(f"{round_name} photo {place + 1}: 1, 24, all at {counts}")


if __name__ == "__main__":
    main()
