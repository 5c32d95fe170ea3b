"""An edition through the page: eight photos, stopped, gone on with, one adjusted, downloaded; words
from titles and tables; by the pointer and by keys.
"""

import io
import zipfile

import pytest
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from screenshots import PACKET
from tests.charts import blobs, png
from tests.ui.steps import axe_faults, button, client_of, downloaded, find, find_path, until

CARDS = ".edition-card"


def cards(page, state=""):
    return page.find_elements(By.CSS_SELECTOR, CARDS + (f"[data-state={state}]" if state else ""))


def count(page, state, number):
    until(page, lambda d: len(cards(d, state)) == number)


def choose(page, label, words):
    Select(find(page, f"[aria-label='{label}']")).select_by_visible_text(words)


def edition_of(page):
    return int(page.current_url.rpartition("/")[2])


def record_of(web, page):
    return web.get(f"/api/editions/{edition_of(page)}").json()


def saved(web, page, condition):
    until(page, lambda d: condition(record_of(web, page)["edition"]))


def smaller(web, record, dpi=60):
    """The edition with files that are soon drawn."""
    edition = record["edition"] | {"wish": {"format": "png", "dpi": dpi}}
    body = {"base": record["revision"], "edition": edition, "words": "Smaller"}
    web.put(f"/api/editions/{record['id']}", json=body).raise_for_status()


@pytest.fixture
def web(address):
    with client_of(address) as web:
        yield web


def test_eight_photos_are_chosen_drawn_stopped_gone_on_with_and_one_adjusted(
    page, address, web, downloads
):
    page.get(address)
    find(page, ".photo-choice input").click()
    button(page, "Choose all 8").click()
    button(page, "Begin an edition").click()
    until(page, lambda d: len(cards(d)) == 8)
    button(page, "Another…").click()
    find(page, "[aria-label='Find a recipe']").send_keys("threshold pure black")
    find_path(page, "//div[@role='dialog']//button[contains(., 'Threshold')]").click()
    saved(web, page, lambda edition: edition["recipe"] == "threshold")
    # Large enough for a hand to stop it midway.
    smaller(web, record_of(web, page), dpi=200)
    page.refresh()
    button(page, "Draw 8 files").click()
    until(page, lambda d: len(cards(d, "done")) >= 1)
    button(page, "Stop").click()
    until(page, lambda d: "Go on" in find(d, "[data-testid=edition-run]").text)
    there = cards(page, "done")
    at = edition_of(page)
    done = [each["id"] for each in record_of(web, page)["entries"] if each["state"] == "done"]
    kept = {each: web.get(f"/api/editions/{at}/entries/{each}/file").content for each in done}
    assert 1 <= len(there) < 8

    # Here, too, once the page is another.
    page.refresh()
    count(page, "done", len(kept))
    until(page, lambda d: f"Go on: {8 - len(kept)} file" in find(d, ".edition-run").text)
    find(page, ".edition-run .btn-primary").click()
    count(page, "done", 8)
    for entry, file in kept.items():
        # Not drawn again: to the last byte the file that was there.
        assert web.get(f"/api/editions/{at}/entries/{entry}/file").content == file
    find(page, "[aria-label='adjust this one: Two pears']").click()
    until(page, lambda d: "/sheets/" in d.current_url)
    sheet = web.get(f"/api/sheets/{edition_of(page)}").json()
    assert sheet["sheet"]["title"] == "Two pears"
    changed = sheet["sheet"] | {"title": "Pears, darker"}
    changed["plates"][0]["draw"]["level"] = 0.35
    body = {"base": sheet["revision"], "sheet": changed, "words": "Darker"}
    web.put(f"/api/sheets/{sheet['id']}", json=body).raise_for_status()
    page.get(f"{address}/editions/{at}")
    count(page, "waiting", 1)
    find(page, ".edition-run .btn-primary").click()
    count(page, "done", 8)
    button(page, "Download all as ZIP").click()
    with zipfile.ZipFile(downloaded(page, downloads, "*.zip")) as archive:
        names = archive.namelist()
        assert len(names) == 8 and "1 Old Barnaby.png" in names
        pears = next(name for name in names if "Two pears" in name)
        picture = Image.open(io.BytesIO(archive.read(pears)))
    assert max(picture.size) == round(200 / 25.4 * 200)


def test_files_are_dropped_looked_at_left_out_and_drawn_by_keys_alone(page, address, web, tmp_path):
    edition = web.post("/api/editions", json={"recipe": "threshold", "title": "Plots"}).json()
    smaller(web, edition)
    for seed, name in enumerate(("leeks", "peas")):
        (tmp_path / f"{name}.png").write_bytes(png(blobs(60, 80, seed=seed) * 255))
    (tmp_path / "notes.txt").write_text("Plot nine wants water.")
    page.get(f"{address}/editions/{edition['id']}")
    files = "\n".join(str(tmp_path / name) for name in ("leeks.png", "notes.txt", "peas.png"))
    find(page, "input[type=file]").send_keys(files)

    until(page, lambda d: len(cards(d)) == 2)
    assert "notes.txt" in find(page, ".uploads-note.failed").text
    assert axe_faults(page) == []
    pictures = ".edition-picture img"
    until(page, lambda d: all(
        d.execute_script("return arguments[0].naturalWidth > 0", each)
        for each in d.find_elements(By.CSS_SELECTOR, pictures)
    ))  # fmt: skip

    def keys(css, *pressed):
        page.execute_script("arguments[0].focus()", find(page, css))
        ActionChains(page).send_keys(*pressed).perform()

    keys("[aria-label='leave out leeks']", Keys.ENTER)
    count(page, "left-out", 1)
    ActionChains(page).key_down(Keys.CONTROL).send_keys("z").key_up(Keys.CONTROL).perform()
    count(page, "left-out", 0)
    keys("#edition-names", "{title}", Keys.ENTER)
    saved(web, page, lambda edition: edition["names"] == "{title}")
    until(page, lambda d: find(d, CARDS + " h3").text == "leeks.png")
    keys("[aria-label='rename leeks']", Keys.ENTER)
    until(page, lambda d: d.execute_script("return document.activeElement.value") == "leeks")
    ActionChains(page).send_keys("Giant leeks", Keys.ENTER).perform()
    until(page, lambda d: find(d, CARDS + " h3").text == "Giant leeks.png")
    keys("[aria-label='undo: back to leeks']", Keys.ENTER)
    until(page, lambda d: find(d, CARDS + " h3").text == "leeks.png")
    assert not page.find_elements("css selector", "[aria-label^='undo: back']")
    keys(".edition-run .btn-primary", Keys.ENTER)
    count(page, "done", 2)
    assert find(page, "[data-testid=edition-run]").get_attribute("data-done") == "2"


def test_a_table_gives_words_and_a_photo_without_a_line_says_so(page, address, web, tmp_path):
    photos = [photo["id"] for photo in web.get("/api/photos").json() if photo["title"] in TITLES]
    edition = web.post(
        "/api/editions", json={"sheet": PACKET, "photos": photos, "title": "Latin"}
    ).json()
    page.get(f"{address}/editions/{edition['id']}")
    until(page, lambda d: len(cards(d)) == 2)
    table = tmp_path / "latin.csv"
    table.write_text("photo,Latin\nTwo pears,Pyrus communis\n")
    find(page, "[aria-label='Table of words']").send_keys(str(table))
    until(page, lambda d: "1 lines: latin" in find(d, ".edition-table").text)

    choose(page, "title says", "the photo’s title")
    saved(web, page, lambda edition: edition["words"] == {"plate-6": "{title}"})
    first = record_of(web, page)["entries"][0]
    adjusted = web.post(f"/api/editions/{edition['id']}/entries/{first['id']}/adjust").json()
    plates = web.get(f"/api/sheets/{adjusted['sheet']}").json()["sheet"]["plates"]
    words = [plate["source"].get("lettering", {}).get("words") for plate in plates]
    assert first["title"] in words and "SUNFLOWER" not in words
    web.post(f"/api/editions/{edition['id']}/undo").raise_for_status()
    page.refresh()

    choose(page, "title says", "the photo’s latin")

    until(page, lambda d: "no line for 'After rain'" in find(d, ".edition-fault").text)
    assert len(page.find_elements(By.CSS_SELECTOR, ".edition-fault")) == 1
    find(page, "button[aria-label=Undo]").click()
    until(page, lambda d: not d.find_elements(By.CSS_SELECTOR, ".edition-fault"))


TITLES = ("Two pears", "After rain")


def test_a_finished_sheet_begins_an_edition_and_one_changed_elsewhere_is_not_overwritten(
    page, address, web
):
    sheet = web.get("/api/sheets").json()[0]
    page.get(f"{address}/sheets/{sheet['id']}")
    button(page, "Keep").click()
    find_path(page, "//a[contains(., 'Draw many photos like this')]").click()
    until(page, lambda d: "/editions/" in d.current_url and len(cards(d)) == 1)
    record = record_of(web, page)
    assert record["edition"]["sheet"] == sheet["id"]
    smaller(web, record)

    find(page, "[aria-label^='leave out']").click()

    until(page, lambda d: "changed elsewhere" in find(d, ".trouble").text)
    # The browser notes by itself what was refused.
    page.get_log("browser")
    button(page, "Load the newest version").click()
    until(page, lambda d: not d.find_elements(By.CSS_SELECTOR, ".trouble"))
    find(page, "[aria-label^='leave out']").click()
    count(page, "left-out", 1)
    page.get(address)
    find(page, f"[aria-label='remove {record['edition']['title']} from the shelf']").click()
    button(page, "Put it back").click()
    until(page, lambda d: find(d, f"[aria-label='Edition: {record['edition']['title']}']"))
