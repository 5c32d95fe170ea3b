"""What a person does on the page, waiting for what they would wait for."""

import base64
import io
from pathlib import Path

import httpx2
import numpy as np
from PIL import Image
from selenium.common.exceptions import StaleElementReferenceException
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait

import browser
from browser import (
    BLANK,
    WAIT_SECONDS,
    begun_of,
    chromium,
    emptied,
    free_port,
    saving_to,
    served,
    sized,
)
from flinz.core.document.sheet_file import unpacked
from screenshots import CONTACT_DONE, SETTLED, choose_look, kind_path, open_kinds

__all__ = [
    "BLANK",
    "CONTACT_DONE",
    "choose_look",
    "chromium",
    "emptied",
    "free_port",
    "kind_path",
    "open_kinds",
    "saving_to",
    "served",
    "sized",
]

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"


def client_of(address):
    """What asks a server by itself, beside the page."""
    return httpx2.Client(base_url=address, timeout=WAIT_SECONDS)


def face_in_pencil(address):
    """The number of a new sheet of the face in pencil, whatever other tests have done."""
    with client_of(address) as web:
        photo = web.get("/api/sheets/3").json()["sheet"]["picture"]["photo"]
        return begun_of(web, photo, "pencil")["id"]


def until(page, condition):
    # The page may draw anew what was just found.
    stale = (StaleElementReferenceException,)
    return WebDriverWait(page, WAIT_SECONDS, 0.05, ignored_exceptions=stale).until(condition)


def settled(page):
    browser.until(page, SETTLED)


def find(page, css):
    return until(page, lambda d: d.find_element(By.CSS_SELECTOR, css))


def find_path(page, path):
    return until(page, lambda d: d.find_element(By.XPATH, path))


def click_on(page, element):
    """Click what may lie below the fold."""
    page.execute_script("arguments[0].scrollIntoView({block: 'center'})", element)
    element.click()


def button(page, words):
    return until(
        page,
        lambda d: d.find_element(
            By.XPATH, f"//*[self::button or self::a][normalize-space()='{words}']"
        ),
    )


def downloaded(page, folder, pattern):
    """The file that arrived in a folder. Its name is there before what it holds."""

    def whole(_):
        if any(folder.glob("*.crdownload")):
            return None
        return next((file for file in folder.glob(pattern) if file.stat().st_size), None)

    return until(page, whole)


def choose_kind(page, label):
    """Choose a look or a way to smooth where that is chosen."""
    open_kinds(page)
    find_path(page, kind_path(label)).click()


def type_value(page, label, value):
    field = find(page, f"input[aria-label^='{label}, value']")
    field.click()
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys(str(value), Keys.ENTER)
    return field


def ink_percent(page):
    return float(find(page, "[data-testid=ink]").text.split()[0])


def stage(page, name):
    """Choose a stage in the run."""
    path = f"//nav//button[.//strong[text()='{name}']]"
    until(page, lambda d: d.find_element(By.XPATH, path)).click()
    until(page, lambda d: find(d, "#dials-title").text == name)
    settled(page)


def sheet_pixels(page):
    """What shows of the sheet, (H, W, 3) uint8."""
    return sheet_part(page)[0]


def sheet_part(page):
    """What shows of the sheet, and where on the sheet that begins: pixels, left, top."""
    script = """
        const c = document.querySelector(".sheet-canvas");
        const sheet = document.querySelector(".sheet-shadow");
        const [x, y, wide, high] = ["left", "top", "width", "height"].map(
            (side) => Math.round(parseFloat(sheet.style[side]))
        );
        const left = Math.max(0, x), top = Math.max(0, y);
        const part = new OffscreenCanvas(
            Math.min(c.width, x + wide) - left, Math.min(c.height, y + high) - top
        );
        part.getContext("2d").drawImage(c, -left, -top);
        const done = arguments[0];
        const reader = new FileReader();
        reader.onload = () => done([left - x, top - y, reader.result]);
        part.convertToBlob().then((blob) => reader.readAsDataURL(blob));
    """
    left, top, url = page.execute_async_script(script)
    return pixels_of(url)[..., :3], left, top


def canvas_pixels(page, css, number=0):
    """All of a canvas, (H, W, 4) uint8."""
    script = "return document.querySelectorAll(arguments[0])[arguments[1]].toDataURL();"
    return pixels_of(page.execute_script(script, css, number))


def pixels_of(url):
    """The picture of a data address as the browser packs it, (H, W, 4) uint8."""
    file = io.BytesIO(base64.b64decode(url.partition(",")[2]))
    return np.asarray(Image.open(file).convert("RGBA"))


def press_key(page, *keys):
    """Press keys together, wherever the focus is, as a hand on the keyboard does."""
    page.execute_script("document.activeElement?.blur?.()")
    *held, key = keys
    actions = ActionChains(page)
    for each in held:
        actions.key_down(each)
    actions.send_keys(key)
    for each in held:
        actions.key_up(each)
    actions.perform()


def stored(page):
    """The record of the sheet whose bench is open, as the server has it."""
    script = """
        const done = arguments[0];
        fetch("/api/sheets/" + location.pathname.split("/")[2]).then((r) => r.json()).then(done);
    """
    return page.execute_async_script(script)


def axe_faults(page):
    """What a checker of accessibility finds serious on the page as it is."""
    page.execute_script(AXE.read_text())
    found = page.execute_async_script("axe.run().then(r => arguments[0](r.violations))")
    page.get_log("browser")
    return [
        (each["id"], [node["html"][:140] for node in each["nodes"]])
        for each in found
        if each["impact"] in ("serious", "critical")
    ]


def file_of(page):
    """The sheet that is open as a file, read."""
    script = """
        const done = arguments[0];
        const reader = new FileReader();
        reader.onload = () => done(reader.result);
        fetch("/api/sheets/" + location.pathname.split("/")[2] + "/file")
            .then((r) => r.blob())
            .then((blob) => reader.readAsDataURL(blob));
    """
    return unpacked(base64.b64decode(page.execute_async_script(script).partition(",")[2]))
