"""Kills a working server many times, and counts what it had acknowledged and lost.

    python tools/kill_often.py [--kills 30] [--seed 1]

Each time two callers change sheets, bring in photos and start exports until the server is killed in
the midst of it; then it is started anew over the same folder and asked for all of it.
"""

import argparse
import http.client
import io
import json
import random
import subprocess
import sys
import tempfile
import threading
import urllib.request
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from browser import free_port, wait_for


@dataclass
class Acknowledged:
    """What the server said that it has: titles of sheets, ids of photos, ids of exports."""

    titles: dict[int, str] = field(default_factory=dict)
    photos: set[str] = field(default_factory=set)
    jobs: set[int] = field(default_factory=set)
    writes: int = 0


def asked(address: str, path: str, body: Any = None, method: str = "GET") -> Any:
    """The answer to a request of JSON, or to a photo as a form sends it."""
    kind, data = "application/json", None
    if body is not None and not isinstance(body, bytes):
        data = json.dumps(body).encode()
    elif body is not None:
        kind = "multipart/form-data; boundary=x"
        head = b'--x\r\nContent-Disposition: form-data; name="file"; filename="p.png"\r\n\r\n'
        data = head + body + b"\r\n--x--\r\n"
    request = urllib.request.Request(address + path, data, {"Content-Type": kind}, method=method)
    with urllib.request.urlopen(request, timeout=60) as answer:
        return json.load(answer)


def picture(seed: int) -> bytes:
    """A PNG that no other seed makes."""
    out = io.BytesIO()
    values = np.random.default_rng(seed).integers(0, 256, (90, 120), np.uint8)
    Image.fromarray(values).save(out, "PNG")
    return out.getvalue()


def work(address: str, seed: int, known: Acknowledged) -> None:
    """Change things until the server is gone; note all that it acknowledges."""
    number = 0
    try:
        photo = asked(address, "/api/photos", picture(seed), "POST")["id"]
        known.photos.add(photo)
        record = asked(address, "/api/sheets", {"photo": photo, "recipe": "threshold"}, "POST")
        while True:
            number += 1
            sheet = {**record["sheet"], "title": f"{seed}, {number}"}
            change = {"base": record["revision"], "sheet": sheet, "words": "Title"}
            record = asked(address, f"/api/sheets/{record['id']}", change, "PUT")
            known.titles[record["id"]] = sheet["title"]
            known.writes += 1
            if number % 9 == 0:
                photo = asked(address, "/api/photos", picture(1000 * seed + number), "POST")["id"]
                known.photos.add(photo)
                wish = {"format": "png", "long_edge_px": 400}
                path = f"/api/sheets/{record['id']}/exports"
                known.jobs.add(asked(address, path, wish, "POST")["id"])
                known.writes += 2
    except (OSError, http.client.HTTPException):
        return


def lost(address: str, known: Acknowledged) -> list[str]:
    """What of it is not there, or not as it was left."""
    titles = {each["id"]: each["sheet"]["title"] for each in asked(address, "/api/sheets")}
    photos = {each["id"] for each in asked(address, "/api/photos")}
    found = [f"photo {photo}" for photo in known.photos - photos]
    for sheet, title in known.titles.items():
        # The next change may have been stored and not acknowledged.
        seed, number = title.split(", ")
        if titles.get(sheet) not in (title, f"{seed}, {int(number) + 1}"):
            found.append(f"sheet {sheet}: {title!r}, found {titles.get(sheet)!r}")
    for job in known.jobs:
        if asked(address, f"/api/jobs/{job}")["state"] not in ("done", "failed", "stopped"):
            found.append(f"export {job} goes on for ever")
    return found


def main() -> None:
    """Kill, look, and say what was lost."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--kills", type=int, default=30)
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    chance, known, missing = random.Random(options.seed), Acknowledged(), list[str]()
    with tempfile.TemporaryDirectory() as folder:
        for kill in range(options.kills + 1):
            port = free_port()
            address = f"http://127.0.0.1:{port}"
            command = [sys.executable, "-m", "flinz", "serve", "--data", str(Path(folder) / "data")]
            with subprocess.Popen(
                [*command, "--port", str(port)], stdout=subprocess.DEVNULL
            ) as server:
                try:
                    wait_for(address, server)
                    missing += lost(address, known)
                    if kill < options.kills:
                        callers = [
                            threading.Thread(
                                target=work, args=(address, 2 * kill + each + 1, known)
                            )
                            for each in range(2)
                        ]
                        for caller in callers:
                            caller.start()
                        callers[0].join(chance.uniform(0.2, 2.0))
                        server.kill()
                        for caller in callers:
                            caller.join()
                finally:
                    server.kill()
            print(f"kill {kill}: {known.writes} acknowledged, {len(missing)} lost", flush=True)
    for each in missing:
        print(each)
    if not known.writes:
        sys.exit("Nothing was acknowledged: is all of it compiled? See `make setup`.")
    sys.exit(bool(missing))


if __name__ == "__main__":
    main()
