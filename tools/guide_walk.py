"""Walk every page of docs/guide.md in a browser, to the file it promises; draw its picture of that.

python tools/guide_walk.py [PAGE ...]: pages by the names of their pictures; without any, all.
"""

import argparse
import io
import itertools
import re
import tempfile
import zipfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pypdfium2
import resvg_py
from PIL import Image, ImageOps
from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import Select, WebDriverWait

from browser import chromium, saving_to, served, until
from screenshots import SETTLED

FOLDER = Path(__file__).parents[1] / "docs" / "guide"
WAIT_SECONDS = 120
# Of a picture of the guide, px.
WIDE, HIGH = 760, 520


class Walker:
    """Does what the guide says, with the words that it uses."""

    def __init__(self, driver: WebDriver, address: str, downloads: Path) -> None:
        self.driver, self.address, self.downloads = driver, address, downloads

    def find(self, path: str) -> WebElement:
        """The element of a path, once it is there and shows."""

        def shown(driver: WebDriver) -> WebElement | None:
            found = [each for each in driver.find_elements(By.XPATH, path) if each.is_displayed()]
            return found[0] if found else None

        element: WebElement = WebDriverWait(self.driver, WAIT_SECONDS, 0.05).until(shown)
        return element

    def press(self, path: str) -> None:
        """Press an element that may lie below the fold."""
        element = self.find(path)
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", element)
        element.click()

    def key(self, *keys: str) -> None:
        """Press keys, wherever the focus is."""
        self.driver.execute_script("document.activeElement?.blur?.()")
        ActionChains(self.driver).send_keys(*keys).perform()

    def settled(self) -> None:
        """Wait for the drawing."""
        until(self.driver, SETTLED)

    def begin(self, photo: str, recipe: str) -> None:
        """From the shelf by a photo and its contact sheet to the bench."""
        self.driver.get(self.address)
        self.press(f"//h3[text()='{photo}']/../..//a")
        self.press(f"//span[@class='contact-name' and normalize-space(text())='{recipe}']/..")
        self.settled()

    def stage(self, name: str) -> None:
        """A stage of the run."""
        self.press(f"//nav//button[.//strong[starts-with(normalize-space(.), '{name}')]]")
        until(
            self.driver, f"return document.querySelector('#dials-title').textContent === '{name}'"
        )

    def dial(self, label: str, value: float | str) -> None:
        """Type a dial's value."""
        folded = (
            f"//details[not(@open)][.//input[starts-with(@aria-label, '{label}, value')]]/summary"
        )
        for summary in self.driver.find_elements(By.XPATH, folded):
            summary.click()
        field = self.find(f"//input[starts-with(@aria-label, '{label}, value')]")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", field)
        field.click()
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(str(value), Keys.ENTER)
        self.settled()

    def choose(self, label: str, option: str) -> None:
        """An option of a field with that label that begins with those words."""
        path = f"//select[@aria-label='{label}' or @id=//label[normalize-space()='{label}']/@for]"
        field = Select(self.find(path))
        words = next(each.text for each in field.options if each.text.startswith(option))
        field.select_by_visible_text(words)

    def tick(self, label: str) -> None:
        """A box by its label."""
        self.press(f"//label[normalize-space()='{label}']")

    def button(self, words: str) -> None:
        """A button or link by its words."""
        self.press(f"//*[self::button or self::a][normalize-space()='{words}']")

    def add_words(self, words: str, face: str) -> None:
        """Another plate, of words."""
        self.press("//button[@aria-label='Add a plate']")
        self.press("//div[@role='group']//button[./strong[text()='Words']]")
        field = self.find("//textarea")
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(words)
        self.choose_kind("Face", face)
        self.settled()

    def choose_kind(self, label: str, option: str) -> None:
        """One of a dial's words, which opens as a list of drawings."""
        dial = f"//div[contains(@class, 'dial-choice')][.//span[text()='{label}']]"
        self.press(f"{dial}//button[@aria-expanded='false']")
        self.press(f"{dial}//button[.//text()[normalize-space()='{option}']]")

    def disc(self, number: int) -> None:
        """A plate, from 1."""
        self.press(f"(//*[contains(@class, 'discs-row')]//*[contains(@class, 'disc')])[{number}]")
        self.settled()

    def pot(self, name: str) -> None:
        """A pot of ink."""
        self.press(f"//*[@aria-label='Ink: pots']//button[@aria-label='{name}']")
        self.settled()

    def verb(self, name: str) -> None:
        """What the hand does."""
        self.press(f"//*[@aria-label='What the hand does']//button[contains(., '{name}')]")

    def drawn(self, *points: tuple[float, float]) -> None:
        """A stroke on the sheet; points in shares of what shows, from its middle."""
        layer = self.find("//*[contains(@class, 'paint-layer')]")
        wide, high = layer.size["width"], layer.size["height"]
        places = [(round(x * wide), round(y * high)) for x, y in points]
        stroke = ActionChains(self.driver)
        stroke.move_to_element_with_offset(layer, *places[0]).click_and_hold()
        for (from_x, from_y), (x, y) in itertools.pairwise(places):
            for _ in range(5):
                stroke.move_by_offset((x - from_x) // 5, (y - from_y) // 5)
        stroke.release().perform()
        self.settled()

    def print_room(self) -> None:
        """To the print room, from the bench."""
        until(self.driver, "return document.querySelector('.saving').dataset.saving === 'saved'")
        self.press("//a[normalize-space()='Print room']")
        self.find("//button[normalize-space()='Download the file']")

    def download(self, words: str = "Download the file") -> Path:
        """The file that comes of a press on a button."""
        before = {*self.downloads.iterdir()}
        self.button(words)

        def came(_: WebDriver) -> Path | None:
            fresh = {*self.downloads.iterdir()} - before
            whole = [path for path in fresh if not path.name.endswith((".crdownload", ".tmp"))]
            # A file that is still coming has a second one beside it.
            return (
                whole[0] if whole and len(fresh) == len(whole) and whole[0].stat().st_size else None
            )

        path: Path = WebDriverWait(self.driver, WAIT_SECONDS, 0.1).until(came)
        return path


def ten_minutes(walk: Walker) -> Path:
    """A pencil drawing to frame."""
    walk.begin("Old Barnaby", "Soft portrait")
    walk.key(".")
    walk.key("w")
    walk.stage("Tone")
    walk.dial("Contrast", 0.15)
    walk.key("h")
    until(walk.driver, "return Number(document.querySelector('.other-canvas')?.dataset.ask) > 0")
    walk.key("h")
    walk.key("x")
    until(walk.driver, "return document.querySelector('.lost-map')?.naturalWidth > 0")
    walk.key("x")
    walk.dial("Shadows", 0.1)
    walk.key("t")
    walk.find("//*[contains(@class, 'strip-cell')]")
    walk.key(Keys.ESCAPE)
    walk.print_room()
    walk.choose("Format", "PNG")
    return walk.download()


def shirt(walk: Walker) -> Path:
    """One screen."""
    walk.begin("Old Barnaby", "Tee one colour")
    walk.stage("Draw")
    walk.dial("Share of ink", 0.42)
    walk.key("o")
    walk.key("o")
    walk.stage("Clean")
    walk.dial("Specks", 0.5)
    walk.stage("Paper")
    walk.dial("Long edge", 280)
    walk.print_room()
    walk.choose("What prints it", "Screen print on cloth")
    walk.find("//ul[@data-testid='checks']/li")
    walk.choose("Format", "SVG")
    walk.tick("Leave the paper out")
    walk.tick("Under-layer for dark cloth")
    return walk.download()


def packet(walk: Walker) -> Path:
    """Dots and a name."""
    walk.begin("Tallest of plot two", "Packet stippled")
    walk.stage("Paper")
    walk.choose("Size of the paper", "Seed packet")
    walk.button("Turn upright")
    walk.settled()
    walk.stage("Photo")
    body = walk.find("//*[contains(@class, 'place-body')]")
    ActionChains(walk.driver).drag_and_drop_by_offset(body, 0, -50).perform()
    walk.add_words("Sunflower", "Slab")
    walk.dial("Size", 9)
    body = walk.find("//*[contains(@class, 'place-body')]")
    ActionChains(walk.driver).drag_and_drop_by_offset(body, 0, 190).perform()
    walk.settled()
    walk.disc(1)
    walk.stage("Draw")
    walk.dial("Dot", 0.3)
    walk.print_room()
    walk.choose("Format", "PDF")
    return walk.download()


def poster(walk: Walker) -> Path:
    """Two inks."""
    walk.begin("Squashes, weighed in", "Fair poster two inks")
    walk.disc(1)
    walk.stage("Ink")
    walk.pot("Squash")
    walk.disc(2)
    walk.stage("Draw")
    walk.dial("Solid blacks", 0.5)
    walk.stage("Ink")
    walk.dial("Off to the right", 0.4)
    walk.print_room()
    walk.choose("What prints it", "Screen print on paper")
    walk.tick("See it on a bad day")
    walk.choose("Format", "Separations, PDF")
    return walk.download()


def sticker(walk: Walker) -> Path:
    """Nothing around it."""
    walk.begin("Visitor at the compost", "Ink line")
    walk.stage("Photo")
    walk.choose_kind("Draws", "The subject")
    walk.settled()
    walk.button("Hand")
    walk.key("v")
    walk.settled()
    walk.verb("Keep")
    walk.drawn((-0.18, 0.08), (-0.1, -0.18), (0.08, -0.22), (0.16, 0.0), (0.1, 0.12))
    # Along the leaves beneath it, and up those beside it.
    walk.verb("Drop")
    walk.drawn((-0.4, 0.2), (-0.28, 0.33), (-0.1, 0.4), (0.12, 0.4), (0.3, 0.34), (0.42, 0.2))
    walk.drawn((0.3, 0.3), (0.28, 0.16), (0.36, 0.0))
    walk.drawn((-0.34, 0.26), (-0.2, 0.3), (-0.06, 0.34))
    walk.settled()
    walk.print_room()
    walk.choose("Format", "PNG")
    walk.tick("Ink alone: no paper")
    return walk.download()


def zine(walk: Walker) -> Path:
    """1 bit."""
    walk.begin("After rain", "Zine copy")
    walk.stage("Draw")
    walk.dial("Grain", 0.5)
    walk.stage("Paper")
    walk.choose("Size of the paper", "A5")
    walk.settled()
    walk.print_room()
    walk.choose("Format", "TIFF")
    walk.choose("Colours", "In black and white alone")
    field = walk.find("//input[@aria-label='Dots an inch']")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("600")
    return walk.download()


def transfer(walk: Walker) -> Path:
    """Pages to glue."""
    walk.begin("Two pears", "Transfer outline")
    walk.stage("Draw")
    walk.dial("Detail", 0.8)
    walk.stage("Paper")
    walk.dial("Long edge", 500)
    walk.print_room()
    walk.choose("Format", "Pages to glue")
    walk.choose("Pages", "A4")
    walk.tick("Mirrored, for a light box")
    return walk.download()


def chalkboard(walk: Walker) -> Path:
    """Words changed on a board that is there."""
    walk.driver.get(walk.address)
    walk.press("//h3[text()='Seed table, on the board']/../..//a")
    walk.settled()
    walk.disc(2)
    walk.press("(//button[contains(@class, 'run-step')])[1]")
    field = walk.find("//textarea[@aria-label='Words']")
    field.click()
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("PEAR", Keys.SHIFT + Keys.ENTER, "DAY")
    walk.settled()
    walk.stage("Ink")
    walk.pot("Straw")
    walk.print_room()
    walk.choose("Format", "PNG")
    return walk.download()


def plotter(walk: Walker) -> Path:
    """Single lines."""
    walk.begin("On the shed step", "Crosshatch")
    walk.stage("Draw")
    walk.dial("Spacing", 1.2)
    walk.stage("Paper")
    walk.dial("Long edge", 280)
    walk.print_room()
    walk.choose("What prints it", "Pen plotter")
    walk.choose("Format", "Lines for a pen plotter")
    walk.find("//*[normalize-space()='Width of the pen, mm']")
    return walk.download()


def series(walk: Walker) -> Path:
    """Eight packets, as their contact print."""
    walk.driver.get(walk.address)
    walk.press("(//*[contains(@class, 'photo-choice')]//input)[1]")
    walk.button("Choose all 8")
    walk.button("Begin an edition")
    walk.button("Another…")
    walk.press("//button[contains(., 'Sunflower packet, with leaves')]")
    walk.choose("title says", "the photo’s title")
    walk.button("Draw 8 files")
    archive = walk.download("Download all as ZIP")
    with zipfile.ZipFile(archive) as files:
        if len(files.namelist()) != 8:
            raise RuntimeError(f"The edition has {len(files.namelist())} files.")
    return walk.download("Contact print for the wall")


PAGES: dict[str, Callable[[Walker], Path]] = {
    "ten-minutes": ten_minutes,
    "shirt": shirt,
    "packet": packet,
    "poster": poster,
    "sticker": sticker,
    "zine": zine,
    "transfer": transfer,
    "chalkboard": chalkboard,
    "plotter": plotter,
    "series": series,
}


def pictured(path: Path) -> Image.Image:
    """What a file holds, by readers that are not ours; pages of one beside each other."""
    if path.suffix == ".svg":
        # At its own size a small sheet would have few pixels.
        text = path.read_text()
        wide, high = (float(value) for value in re.findall(r'="([0-9.]+)mm"', text)[:2])
        size = f'width="{2 * WIDE}" height="{round(2 * WIDE * high / wide)}"'
        text = re.sub(r'width="[0-9.]+mm" height="[0-9.]+mm"', size, text, count=1)
        data = resvg_py.svg_to_bytes(svg_string=text)
        return Image.open(io.BytesIO(bytes(data)))
    if path.suffix == ".pdf":
        document = pypdfium2.PdfDocument(path)
        pages = [_without_blank(page.render(scale=1.5).to_pil()) for page in document][:6]
        return _beside([ImageOps.expand(page, 1, "#9a9488") for page in pages])
    return Image.open(path)


def _without_blank(page: Image.Image) -> Image.Image:
    """A page without what is bare at its foot."""
    used = ImageOps.invert(page.convert("L")).getbbox()
    return page.crop((0, 0, page.width, min(page.height, used[3] + 30))) if used else page


def _beside(pages: list[Image.Image]) -> Image.Image:
    if len(pages) == 1:
        return pages[0]
    across = 3 if len(pages) > 3 else len(pages)
    wide, high = pages[0].size
    sheet = Image.new(
        "RGB", (across * (wide + 12), -(-len(pages) // across) * (high + 12)), "white"
    )
    for number, page in enumerate(pages):
        sheet.paste(page, (number % across * (wide + 12), number // across * (high + 12)))
    return sheet


def saved(path: Path, target: Path) -> None:
    """The small picture of a file, on white."""
    picture = pictured(path).convert("RGBA")
    picture.thumbnail((WIDE, HIGH), Image.Resampling.LANCZOS)
    flat = Image.new("RGB", picture.size, "white")
    # A sheet without paper lies on the colour of cloth, so that white is seen on it.
    if np.asarray(picture)[..., 3].min() == 0:
        flat.paste("#bdbab3", (0, 0, *picture.size))
    flat.paste(picture, (0, 0), picture)
    target.parent.mkdir(exist_ok=True)
    flat.save(target, "JPEG", quality=82)


def main() -> None:
    """Walk the pages that are named, or all."""
    options = argparse.ArgumentParser()
    options.add_argument("pages", nargs="*", choices=[*PAGES, []])
    wanted = options.parse_args().pages or list(PAGES)
    with tempfile.TemporaryDirectory() as folder:
        data, downloads = Path(folder) / "demo", Path(folder) / "downloads"
        downloads.mkdir()
        with served("demo", "--data", str(data)) as address, chromium() as driver:
            saving_to(driver, downloads)
            for name in wanted:
                file = PAGES[name](Walker(driver, address, downloads))
                print(f"{name}: {file.name}, {file.stat().st_size:,} bytes", flush=True)
                saved(file, FOLDER / f"{name}.jpg")


if __name__ == "__main__":
    main()
