"""Make docs/screenshots from demo data: python tools/screenshots.py [--to FOLDER] [NAME ...]."""

import argparse
import tempfile
from collections.abc import Callable
from pathlib import Path

from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from browser import chromium, served, until

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
# True when the newest position of every dial is on screen, and the run with it.
SETTLED = """
const canvas = document.querySelector(".sheet-canvas");
const drawn = document.querySelectorAll(".small-proof");
return canvas && canvas.dataset.ask !== "0" && canvas.dataset.ask === canvas.dataset.asked
    && canvas.dataset.draft === "false"
    && [...drawn].every((proof) => proof.dataset.ask === canvas.dataset.asked)
    && document.querySelector(".saving").dataset.saving === "saved"
    && document.fonts.status === "loaded";
"""
# True when the slow figures are of the sheet as it is.
FRESH = "return document.querySelector('.figures').dataset.fresh === 'true'"
ANSWERED = """
const canvas = document.querySelector(".sheet-canvas");
return canvas && canvas.dataset.ask !== "0" && canvas.dataset.ask === canvas.dataset.asked
    && canvas.dataset.draft === "false" && document.querySelector(".print-busy") === null
    && document.fonts.status === "loaded";
"""
CONTACT_DONE = """
const line = document.querySelector(".contact-line")?.dataset;
return line && line.all !== "0" && line.done === line.all && document.fonts.status === "loaded";
"""
STRIP_DONE = """
const drawn = document.querySelectorAll(".strip-proof[data-draft=false]");
return drawn.length > 0 && drawn.length === document.querySelectorAll(".strip-cell").length;
"""
# Sheets of the demo.
POSTER, TEE, STICKER, HAND_TEE, HALF, SNAIL, WALL, PEARS = 4, 5, 6, 7, 8, 10, 11, 12
FAIR, SEEDS, PACKET, CAN = 13, 14, 15, 17
# Those further down load when they are scrolled to.
PICTURES_LOADED = """
const pictures = [...document.images].filter(
    (p) => p.getBoundingClientRect().top < innerHeight);
return pictures.length > 0 && pictures.every((p) => p.complete && p.naturalWidth > 0)
    && document.fonts.status === "loaded";
"""


def shelf(driver: WebDriver, address: str) -> None:
    """Photos and sheets."""
    driver.get(address)
    until(driver, PICTURES_LOADED)


def bench(driver: WebDriver, address: str) -> None:
    """The pencil on the face."""
    driver.get(f"{address}/sheets/3")
    until(driver, SETTLED)
    # Once more, so that the time shown is not that of a server still warming up.
    driver.refresh()
    until(driver, SETTLED)
    until(driver, FRESH)
    # Looks that are drawn ahead are asked for meanwhile.
    until(driver, SETTLED)


def choose_look(driver: WebDriver, label: str) -> None:
    """Choose a look at Draw and wait for it."""
    open_kinds(driver)
    until(driver, SETTLED)
    driver.find_element(By.XPATH, kind_path(label)).click()
    until(driver, f"return {pressed(label)} && (() => {{ {SETTLED} }})()")


def kind_path(label: str) -> str:
    """The path of a look or a way to smooth among others, by its name alone: more is said with it
    once its small drawing has come.
    """
    return f"//button[@class='kind'][.//span[text()='{label}']]"


def open_kinds(driver: WebDriver) -> None:
    """Lay the other looks, or ways to smooth, over the column."""
    row = driver.find_element(By.CSS_SELECTOR, ".dials > .kind-chooser .kind-row")
    if row.get_attribute("aria-expanded") == "false":
        row.click()
    until(driver, "return document.querySelector('.kinds') !== null")


def pressed(label: str) -> str:
    """A script's condition that a look is the chosen one."""
    return f"document.querySelector('.kind-row strong')?.innerText.trim() === '{label}'"


def hand(driver: WebDriver, address: str) -> None:
    """The face opened and the hat closed at Tone, beside the brush."""
    bench_of(driver, address, HAND_TEE)
    at_hand(driver, "Tone")


def cutout(driver: WebDriver, address: str) -> None:
    """The hedgehog freed of its leaves."""
    bench_of(driver, address, STICKER)
    at_hand(driver, "Photo")


def at_hand(driver: WebDriver, stage: str) -> None:
    """The face of the hand at a stage, the brush over the sheet."""
    path = f"//nav//button[.//strong[starts-with(normalize-space(.), '{stage}')]]"
    driver.find_element(By.XPATH, path).click()
    until(driver, "return document.querySelector('.dials-head button') !== null")
    driver.find_element(By.XPATH, "//button[starts-with(normalize-space(.), 'Hand')]").click()
    until(driver, "return document.querySelector('.paint-layer') !== null")
    layer = driver.find_element(By.CSS_SELECTOR, ".paint-layer")
    ActionChains(driver).move_to_element_with_offset(layer, 40, 20).perform()
    until(driver, SETTLED)


def crop(driver: WebDriver, address: str) -> None:
    """A square out of the snail."""
    bench_of(driver, address, SNAIL)
    driver.find_element(By.XPATH, "//nav//button[.//strong[text()='Photo']]").click()
    until(driver, "return document.querySelector('.crop-face button') !== null")
    driver.find_element(By.CSS_SELECTOR, ".crop-face button").click()
    until(driver, "return document.querySelector('#crop-shape') !== null")
    driver.find_element(By.CSS_SELECTOR, "#crop-shape option[value='4:5']").click()
    until(driver, SETTLED)


def masks(driver: WebDriver, address: str) -> None:
    """The sunflower, half photo and half line."""
    bench_of(driver, address, HALF)
    driver.find_element(By.XPATH, "//nav//button[.//strong[text()='Ink']]").click()
    until(driver, "return document.querySelector('.fade-handle') !== null")
    until(driver, "return document.querySelector('#mask-tinted') !== null")
    driver.execute_script("document.querySelector('#mask-tinted').click()")
    until(driver, "return document.querySelector('[data-testid=prints]') !== null")
    until(driver, SETTLED)


def paper(driver: WebDriver, address: str) -> None:
    """The scarecrow on a brick wall, at the dials of the paper."""
    bench_of(driver, address, WALL)
    driver.find_element(By.XPATH, "//nav//button[.//strong[text()='Paper']]").click()
    until(driver, "return document.querySelector('#dials-title').textContent === 'Paper'")
    script = "document.querySelectorAll('.dials-list details').forEach((each) => each.open = true)"
    driver.execute_script(script)
    until(driver, SETTLED)


def in_print_room(driver: WebDriver, address: str, sheet: int) -> None:
    """The print room of a sheet, its picture drawn."""
    driver.get(f"{address}/sheets/{sheet}/print")
    until(driver, "return document.querySelector('.measures') !== null")
    until(driver, "return document.querySelector('[data-testid=export-size]') !== null")
    until(driver, ANSWERED)


def print_room(driver: WebDriver, address: str) -> None:
    """What cloth could not hold of the T-shirt, and where."""
    in_print_room(driver, address, TEE)
    Select(driver.find_element(By.ID, "machine")).select_by_value("screen-cloth")
    until(driver, "return document.querySelectorAll('.check-list button').length > 0")
    driver.find_element(By.CSS_SELECTOR, ".check-list button").click()
    until(driver, "return document.querySelectorAll('.check-spots span').length > 0")


def tracing(driver: WebDriver, address: str) -> None:
    """The T-shirt's hat in red, its outline chosen, on an under-layer."""
    driver.get(f"{address}/sheets/{TEE}/tracing")
    until(driver, "return Number(document.querySelector('.shape-bed')?.dataset.shapes) > 0")
    bed = driver.find_element(By.CSS_SELECTOR, ".shape-bed")
    ActionChains(driver).move_to_element_with_offset(bed, -150, -180).click().perform()
    until(driver, "return document.querySelector('.chosen-box') !== null")
    driver.find_element(By.CSS_SELECTOR, "[aria-label='Colour Poppy']").click()
    until(driver, "return document.querySelector('.shape-lots').children.length > 10")
    until(driver, "return document.querySelector('.saving').dataset.saving === 'saved'")
    ActionChains(driver).send_keys(Keys.ESCAPE).perform()
    ActionChains(driver).move_to_element_with_offset(bed, -90, -2).click().perform()
    until(driver, "return document.querySelector('.chosen-box') !== null")


def bad_day(driver: WebDriver, address: str) -> None:
    """The fair poster as it should be, and as a rough press would print it."""
    in_print_room(driver, address, POSTER)
    driver.find_element(By.ID, "bad-day").click()
    driver.find_element(By.ID, "bad-half").click()
    # The picture before it is still there until the new one comes.
    until(driver, "return document.querySelector('.print-busy') !== null")
    until(driver, ANSWERED)


def tiles(driver: WebDriver, address: str) -> None:
    """The snail over pages to glue, mirrored."""
    in_print_room(driver, address, SNAIL)
    field = driver.find_element(By.CSS_SELECTOR, "input[aria-label^='Long edge, value']")
    field.click()
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("420", Keys.ENTER)
    Select(driver.find_element(By.ID, "format")).select_by_value("tiles")
    until(driver, "return document.querySelectorAll('.page-boxes > div').length > 1")
    driver.find_element(By.ID, "mirrored").click()
    until(driver, ANSWERED)


def edition(driver: WebDriver, address: str) -> None:
    """A packet for every photo, the first of them drawn."""
    driver.get(f"{address}/editions/1")
    shown = "[...document.querySelectorAll('.edition-picture img')]"
    until(driver, f"return {shown}.length > 7 && {shown}.every((p) => p.naturalWidth > 0)")
    driver.find_element(By.CSS_SELECTOR, ".edition-run .btn-primary").click()
    done = "document.querySelectorAll('.edition-card[data-state=done]').length"
    until(driver, f"return {done} >= 3 && document.fonts.status === 'loaded'")


def contact_sheet(driver: WebDriver, address: str) -> None:
    """Every recipe on the face."""
    driver.get(address)
    path = "//h3[text()='Old Barnaby']/../..//a"
    until(driver, f"return {_found(path)} !== null")
    driver.find_element(By.XPATH, path).click()
    until(driver, CONTACT_DONE)


def strip_of_levels(driver: WebDriver, address: str) -> None:
    """Nine levels of the T-shirt at its first watch spot."""
    bench_of(driver, address, TEE)
    driver.find_element(By.CSS_SELECTOR, "[aria-label='Test strip of Level']").click()
    until(driver, STRIP_DONE)


def bench_of(driver: WebDriver, address: str, sheet: int) -> None:
    """A piece, with its slow figures."""
    driver.get(f"{address}/sheets/{sheet}")
    until(driver, SETTLED)
    until(driver, FRESH)


def compared(driver: WebDriver, address: str) -> None:
    """The T-shirt and its photo in halves."""
    bench_of(driver, address, TEE)
    press(driver, "h")
    until(driver, "return Number(document.querySelector('.other-canvas')?.dataset.ask) > 0")


def lost_detail(driver: WebDriver, address: str) -> None:
    """What the T-shirt has lost."""
    bench_of(driver, address, TEE)
    press(driver, "x")
    until(driver, "return document.querySelector('.lost-map')?.naturalWidth > 0")


def plates(driver: WebDriver, address: str) -> None:
    """The poster's slipped colour."""
    bench_of(driver, address, POSTER)
    driver.find_element(By.XPATH, "//nav//button[.//strong[text()='Ink']]").click()
    until(driver, "return document.querySelectorAll('details.dial-group').length > 0")
    until(driver, SETTLED)


def words(driver: WebDriver, address: str) -> None:
    """The headline of the fair poster, with its handles."""
    bench_of(driver, address, FAIR)
    source_of(driver, 2)


def source_of(driver: WebDriver, plate: int) -> None:
    """What a plate is drawn from, on the sheet."""
    driver.find_element(By.CSS_SELECTOR, f".discs-row .disc:nth-child({plate})").click()
    driver.find_element(By.CSS_SELECTOR, ".run-step").click()
    until(driver, "return document.querySelector('.place-body') !== null")
    until(driver, SETTLED)


def recipe_book(driver: WebDriver, address: str) -> None:
    """Own and house recipes."""
    driver.get(f"{address}/recipes")
    until(driver, "return document.querySelectorAll('.book-card img').length > 12")
    until(driver, PICTURES_LOADED)


def press(driver: WebDriver, key: str) -> None:
    """Press a key of the bench."""
    ActionChains(driver).send_keys(key).perform()


def _found(path: str) -> str:
    kind = "XPathResult.FIRST_ORDERED_NODE_TYPE"
    return f'document.evaluate("{path}", document, null, {kind}, null).singleNodeValue'


VIEWS: dict[str, tuple[Callable[[WebDriver, str], None], int, int]] = {
    "shelf": (shelf, 1280, 800),
    "contact-sheet": (contact_sheet, 1280, 800),
    "bench-pencil": (bench, 1280, 800),
    "words": (words, 1280, 800),
    "paper": (paper, 1280, 800),
    "hand": (hand, 1280, 800),
    "cutout": (cutout, 1280, 800),
    "crop": (crop, 1280, 800),
    "masks": (masks, 1280, 800),
    "test-strip": (strip_of_levels, 1280, 800),
    "compare": (compared, 1280, 800),
    "lost-detail": (lost_detail, 1280, 800),
    "plates": (plates, 1280, 800),
    "recipe-book": (recipe_book, 1280, 800),
    "print-room": (print_room, 1280, 800),
    "tracing": (tracing, 1280, 800),
    "bad-day": (bad_day, 1280, 800),
    "tiles": (tiles, 1280, 800),
    "edition": (edition, 1280, 800),
}


def main() -> None:
    """Serve fresh demo data for every view, so that none shows another's changes."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("names", nargs="*", help=", ".join(VIEWS))
    parser.add_argument("--to", type=Path, default=FOLDER)
    chosen = parser.parse_args()
    chosen.to.mkdir(parents=True, exist_ok=True)
    for name in chosen.names or VIEWS:
        view, width, height = VIEWS[name]
        with (
            tempfile.TemporaryDirectory() as data,
            served("demo", "--data", data) as address,
            chromium(width, height) as driver,
        ):
            view(driver, address)
            driver.save_screenshot(str(chosen.to / f"{name}.png"))
            print(chosen.to / f"{name}.png")


if __name__ == "__main__":
    main()
