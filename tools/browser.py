"""A headless Chromium and a served Flinz, for screenshots, measurements and the browser tests."""

import contextlib
import shutil
import socket
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx2
from selenium import webdriver
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.support.ui import WebDriverWait

FLAGS = (
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--hide-scrollbars",
    "--force-color-profile=srgb",
    # A click on a panel that still slides in may be let go beside what it was meant for.
    "--force-prefers-reduced-motion",
)
# A machine that does something else besides is slow, and not broken.
START_SECONDS = WAIT_SECONDS = 150

# Looks from within the page whether something holds: to ask from outside each time takes as much of
# the processor as a small drawing.
LOOKING = """
return (async () => {
    const holds = () => { %s };
    const end = performance.now() + 10000;
    while (!holds()) {
        if (performance.now() > end) return false;
        await new Promise((look) => setTimeout(look, 30));
    }
    return true;
})();
"""
# An address of the application that shows nothing, of the process that shows its pages.
BLANK = "assets/mark.svg"


@contextlib.contextmanager
def served(*arguments: str, port: int | None = None) -> Iterator[str]:
    """Run `flinz ARGUMENTS --port P`, on a free port without one; yield its address; end it."""
    port = port or free_port()
    command = [sys.executable, "-m", "flinz", *arguments, "--port", str(port)]
    with subprocess.Popen(command) as server:
        try:
            address = f"http://127.0.0.1:{port}"
            wait_for(address, server)
            yield address
        finally:
            server.terminate()
            try:
                server.wait(10)
            except subprocess.TimeoutExpired:
                server.kill()


def begun(web: httpx2.Client, photo: bytes, recipe: str) -> dict[str, Any]:
    """The record of a new sheet of a picture file, by a recipe."""
    file = {"file": ("photo.png", photo)}
    return begun_of(web, web.post("/api/photos", files=file).json()["id"], recipe)


def begun_of(web: httpx2.Client, photo: int, recipe: str) -> dict[str, Any]:
    """The record of a new sheet of a photo, by a recipe; asked for until Flinz is ready."""
    wanted = {"photo": photo, "recipe": recipe}
    end = time.monotonic() + START_SECONDS
    while True:
        answer = web.post("/api/sheets", json=wanted)
        if "Retry-After" not in answer.headers or time.monotonic() > end:
            answer.raise_for_status()
            record: dict[str, Any] = answer.json()
            return record
        time.sleep(0.05)


def wait_for(address: str, server: subprocess.Popen[bytes]) -> None:
    """Return when a server answers. Raises RuntimeError if it ends first or takes too long."""
    end = time.monotonic() + START_SECONDS
    while time.monotonic() < end:
        if server.poll() is not None:
            raise RuntimeError(f"The server ended with {server.returncode}.")
        try:
            with urllib.request.urlopen(f"{address}/api/catalogue", timeout=5):
                return
        except (urllib.error.URLError, ConnectionError, TimeoutError):
            time.sleep(0.05)
    raise RuntimeError("The server did not answer in time.")


def free_port() -> int:
    """A port nobody listens on now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@contextlib.contextmanager
def chromium(width: int = 1280, height: int = 800) -> Iterator[webdriver.Chrome]:
    """A fresh headless browser whose page area is width x height."""
    profile = tempfile.mkdtemp(prefix="flinz-browser-")
    options = Options()
    options.binary_location = shutil.which("chromium") or "chromium"
    for flag in (*FLAGS, f"--user-data-dir={profile}", f"--window-size={width},{height}"):
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options, Service(shutil.which("chromedriver") or "chromedriver"))
    try:
        sized(driver, width, height)
        yield driver
    finally:
        driver.quit()
        shutil.rmtree(profile, ignore_errors=True)


def sized(driver: webdriver.Chrome, width: int, height: int) -> None:
    """Make the page area width x height."""
    metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)


def until(driver: webdriver.Chrome, script: str) -> None:
    """Wait until a script returns true."""
    WebDriverWait(driver, WAIT_SECONDS, 0.05).until(lambda d: d.execute_script(LOOKING % script))


def saving_to(driver: webdriver.Chrome, folder: Path) -> None:
    """Have downloads saved in a folder without asking."""
    place = {"behavior": "allow", "downloadPath": str(folder)}
    driver.execute_cdp_cmd("Browser.setDownloadBehavior", place)


def emptied(driver: webdriver.Chrome, address: str) -> None:
    """Leave one window that shows nothing, and nothing that pages of an address have stored."""
    first, *others = driver.window_handles
    for other in others:
        driver.switch_to.window(other)
        driver.close()
    driver.switch_to.window(first)
    driver.get(f"{address}/{BLANK}")
    driver.execute_script("localStorage.clear(); sessionStorage.clear()")
    driver.delete_all_cookies()
    driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})
    sized(driver, 1280, 800)
