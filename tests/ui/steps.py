"""What a person does on the page, waiting for what they would wait for."""

import base64
from pathlib import Path

import httpx2
import numpy as np
from selenium.common.exceptions import StaleElementReferenceException
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait

from browser import chromium, emptied, free_port, saving_to, served, sized
from flinz.core.document.sheet_file import unpacked
from screenshots import CONTACT_DONE, SETTLED, choose_look, open_kinds

__all__ = [
    "CONTACT_DONE",
    "choose_look",
    "chromium",
    "emptied",
    "free_port",
    "open_kinds",
    "saving_to",
    "served",
    "sized",
]

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"


# A machine that does something else besides is slow, and not wrong.
WAIT_SECONDS = 150


def client_of(address):
    """What asks a server by itself, beside the page."""
    return httpx2.Client(base_url=address, timeout=WAIT_SECONDS)


def until(page, condition):
    # The page may draw anew what was just found.
    stale = (StaleElementReferenceException,)
    return WebDriverWait(page, WAIT_SECONDS, 0.05, ignored_exceptions=stale).until(condition)


def settled(page):
    until(page, lambda d: d.execute_script(SETTLED))


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
        const right = Math.min(c.width, x + wide), bottom = Math.min(c.height, y + high);
        const d = c.getContext("2d").getImageData(left, top, right - left, bottom - top).data;
        let text = "";
        for (let k = 0; k < d.length; k += 8192) {
            text += String.fromCharCode(...d.subarray(k, k + 8192));
        }
        return [right - left, bottom - top, left - x, top - y, btoa(text)];
    """
    width, height, left, top, data = page.execute_script(script)
    pixels = np.frombuffer(base64.b64decode(data), np.uint8)
    return pixels.reshape(height, width, 4)[..., :3], left, top


def canvas_pixels(page, css, number=0):
    """All of a canvas, (H, W, 4) uint8."""
    script = """
        const c = document.querySelectorAll(arguments[0])[arguments[1]];
        const d = c.getContext("2d").getImageData(0, 0, c.width, c.height).data;
        let text = "";
        for (let k = 0; k < d.length; k += 8192) {
            text += String.fromCharCode(...d.subarray(k, k + 8192));
        }
        return [c.width, c.height, btoa(text)];
    """
    width, height, data = page.execute_script(script, css, number)
    return np.frombuffer(base64.b64decode(data), np.uint8).reshape(height, width, 4)


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
        fetch("/api/sheets/" + location.pathname.split("/")[2] + "/file")
            .then((r) => r.arrayBuffer())
            .then((b) => {
                let text = "";
                const bytes = new Uint8Array(b);
                for (let k = 0; k < bytes.length; k += 8192) {
                    text += String.fromCharCode(...bytes.subarray(k, k + 8192));
                }
                done(btoa(text));
            });
    """
    return unpacked(base64.b64decode(page.execute_async_script(script)))
