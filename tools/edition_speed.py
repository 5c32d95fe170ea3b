"""How soon an edition's small pictures come, and how a dial answers while it is drawn.

python tools/edition_speed.py [--photos 60]: photos of 12 MP, made from the demo's with grain.
"""

import argparse
import statistics
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import httpx2

from browser import served
from flinz.bench import as_jpeg, resized_with_grain
from flinz.core.planes.decoding import decode
from flinz.demo.scenario import PHOTOS, picture

EDGE = 4240
POLL_SECONDS = 0.2
# As many as a page asks for at once.
AT_ONCE = 3


def large(number: int) -> bytes:
    """A photo of 12 MP that no other is."""
    file = PHOTOS[number % len(PHOTOS)].file
    pixels = resized_with_grain(decode(picture(file), file), EDGE).pixels[: EDGE * 2 // 3]
    pixels[0, :8] = number
    return as_jpeg(pixels)


def main() -> None:
    """Print the times."""
    options = argparse.ArgumentParser()
    options.add_argument("--photos", type=int, default=60)
    count = options.parse_args().photos
    with (
        tempfile.TemporaryDirectory() as folder,
        served("serve", "--data", folder) as address,
        httpx2.Client(base_url=address, timeout=120) as web,
    ):
        ids = []
        for number in range(count):
            file = {"file": (f"photo {number}.jpg", large(number))}
            ids.append(web.post("/api/photos", files=file).json()["id"])
        for recipe in ("pencil", "ink-line"):
            while web.get(f"/api/recipes/{recipe}/picture?photo={ids[0]}").status_code == 503:
                time.sleep(POLL_SECONDS)
            _small_pictures(web, ids, recipe)
        _dials(web, ids)


def _small_pictures(web: httpx2.Client, ids: list[str], recipe: str) -> None:
    began = time.perf_counter()
    record = web.post("/api/editions", json={"photos": ids, "recipe": recipe}).json()
    opened = time.perf_counter() - began
    address = f"/api/editions/{record['id']}/entries"

    def drawn(entry: int) -> float:
        web.get(f"{address}/{entry}/picture?long_edge_px=420").raise_for_status()
        return time.perf_counter() - began

    with ThreadPoolExecutor(AT_ONCE) as pool:
        ends = list(pool.map(drawn, [each["id"] for each in record["entries"]]))
    print(f"{recipe}: opened {opened:.2f} s, first {min(ends):.2f} s, all {max(ends):.1f} s")


def _dials(web: httpx2.Client, ids: list[str]) -> None:
    """Small pictures of a sheet whose level moves, idle and while an edition is drawn."""
    sheet = web.post("/api/sheets", json={"photo": ids[0], "recipe": "threshold"}).json()
    at_rest = _moves(web, sheet["id"], 0.3)
    record = web.post("/api/editions", json={"photos": ids, "recipe": "pencil"}).json()
    web.post(f"/api/editions/{record['id']}/run", json={})
    while not any(each["state"] == "done" for each in _entries(web, record)):
        time.sleep(POLL_SECONDS)
    # What was drawn before is remembered.
    under_way = _moves(web, sheet["id"], 0.305)
    web.post(f"/api/editions/{record['id']}/stop")
    print(f"a move of a dial: {at_rest:.0f} ms at rest, {under_way:.0f} ms while it is drawn")


def _entries(web: httpx2.Client, record: dict[str, Any]) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = web.get(f"/api/editions/{record['id']}").json()["entries"]
    return found


def _moves(web: httpx2.Client, sheet_id: int, first: float) -> float:
    times = []
    for number in range(24):
        record = web.get(f"/api/sheets/{sheet_id}").json()
        record["sheet"]["plates"][0]["draw"]["level"] = first + 0.01 * number
        change = {"base": record["revision"], "sheet": record["sheet"], "words": "Level"}
        began = time.perf_counter()
        web.put(f"/api/sheets/{sheet_id}", json=change)
        web.get(f"/api/sheets/{sheet_id}/picture?long_edge_px=1000").raise_for_status()
        times.append((time.perf_counter() - began) * 1000)
    return statistics.median(times)


if __name__ == "__main__":
    main()
