"""Turn dials, paint and cut at random on a 24 MP photo and watch the memory of the server.

python tools/memory_walk.py [--minutes 60] [--seed 1]; prints the resident memory every minute and
its peak. Needs Linux, whose /proc tells a process's memory.
"""

import argparse
import asyncio
import json
import random
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

import websockets
from large_photo import large_photo

from browser import free_port, wait_for

VIEW_EDGES = (780, 1560, 2400)
# One move in so many is a stroke, or another part of the photo.
PAINTS, PARTS = 4, 20


def memory_mb(process: int, what: str) -> float:
    """VmRSS (now) or VmHWM (its peak) of a process in megabytes."""
    for line in Path(f"/proc/{process}/status").read_text().splitlines():
        if line.startswith(what):
            return int(line.split()[1]) / 1000
    raise RuntimeError(f"The system does not tell {what}.")


def posted(address: str, data: bytes, kind: str, method: str = "POST") -> dict:
    """The answer to what is sent."""
    request = urllib.request.Request(address, data, {"Content-Type": kind}, method=method)
    with urllib.request.urlopen(request, timeout=120) as answer:
        return json.load(answer)


def uploaded(address: str, data: bytes) -> str:
    """The id of a photo that was brought in."""
    edge = "flinz-memory-walk"
    head = (
        f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="large.jpg"\r\n'
        "Content-Type: image/jpeg\r\n\r\n"
    )
    body = head.encode() + data + f"\r\n--{edge}--\r\n".encode()
    return posted(f"{address}/api/photos", body, f"multipart/form-data; boundary={edge}")["id"]


def turned(sheet: dict, catalogue: dict, chance: random.Random) -> None:
    """One dial of one stage at another place on its track, or another look."""
    stage = chance.choice(["tone", "smooth", "draw", "draw", "draw", "clean"])
    plate = sheet["plates"][0]
    kinds = next(step["kinds"] for step in catalogue["steps"] if step["name"] == stage)
    settings = plate[stage]
    name = settings.get("look") or settings.get("kind") or ""
    if len(kinds) > 1 and chance.random() < 0.1:
        kind = chance.choice(kinds)
        tag = "look" if stage == "draw" else "kind"
        plate[stage] = {tag: kind["name"]}
        return
    kind = next(each for each in kinds if each["name"] == name)
    dials = [dial for dial in kind["dials"] if dial["kind"] == "dial"]
    if dials:
        dial = chance.choice(dials)
        value = dial["low"] + chance.random() * (dial["high"] - dial["low"])
        settings[dial["name"]] = round(round(value / dial["step"]) * dial["step"], 6)


def painted(address: str, record: dict, catalogue: dict, chance: random.Random) -> None:
    """One stroke of any verb of any stage, of the sheet as it is saved first."""
    url, sheet = f"{address}/api/sheets/{record['id']}", record["sheet"]

    def sent(to: str, body: dict, method: str = "POST") -> dict:
        return posted(to, json.dumps(body).encode(), "application/json", method)

    change = {"base": record["revision"], "sheet": sheet, "words": "walk"}
    record["revision"] = sent(url, change, "PUT")["revision"]
    step = chance.choice([step for step in catalogue["steps"] if step["verbs"]])
    x, y = chance.random(), chance.random()
    points = [
        [x + 0.1 * chance.gauss(0, 1), y + 0.1 * chance.gauss(0, 1), chance.random()]
        for _ in range(chance.randint(1, 60))
    ]
    stroke = {
        "sheet_id": record["id"],
        "plate": "plate-1",
        "stage": step["name"],
        "verb": chance.choice(step["verbs"])["name"],
        "by": chance.choice(["brush", "brush", "area"]) if len(points) > 2 else "brush",
        "size_mm": chance.uniform(1, 20),
        "points": points,
    }
    made = sent(f"{address}/api/hand/paint", stroke)["id"]
    if step["name"] == "photo":
        sheet["cutouts"][sheet["picture"]["photo"]] = made
    else:
        sheet["plates"][0]["hand"][step["name"]] = made


def views(chance: random.Random) -> list[dict]:
    """The sheet at some zoom, four watch spots, and the run."""
    edge = chance.choice(VIEW_EDGES)
    part = min(1.0, 780 / edge)
    left, top = (chance.random() * (1 - part) for _ in range(2))
    list_of = [{"id": "main", "long_edge_px": edge, "region": [left, top, left + part, top + part]}]
    for spot in range(4):
        region = [0.2 * spot, 0.3, 0.2 * spot + 0.1, 0.4]
        list_of.append(
            {"id": f"watch-{spot}", "long_edge_px": 1300, "region": region, "follows": True}
        )
    for stage in ("tone", "smooth", "draw", "clean", "ink"):
        list_of.append(
            {"id": stage, "what": "stage", "plate": "plate-1", "stage": stage, "long_edge_px": 156}
        )
    return list_of


async def walk(address: str, photo: str, process: int, minutes: float, seed: int) -> None:
    """Ask, wait for the main picture, turn another dial."""
    chance = random.Random(seed)
    with urllib.request.urlopen(f"{address}/api/catalogue", timeout=30) as answer:
        catalogue = json.load(answer)
    body = json.dumps({"photo": photo, "recipe": "pencil"}).encode()
    record = posted(f"{address}/api/sheets", body, "application/json")
    sheet = record["sheet"]
    peak = memory_mb(process, "VmHWM")
    print(f"photo opened: {memory_mb(process, 'VmRSS'):.0f} MB, peak {peak:.0f} MB", flush=True)
    began, minute, moves = time.monotonic(), 0, 0
    live = f"{address.replace('http', 'ws')}/api/sheets/live"
    async with websockets.connect(live, max_size=None, origin=address) as socket:
        while time.monotonic() - began < minutes * 60:
            turned(sheet, catalogue, chance)
            moves += 1
            if moves % PAINTS == 0:
                painted(address, record, catalogue, chance)
            if moves % PARTS == 0:
                part = chance.choice(["whole", "subject", "backdrop"])
                sheet["plates"][0]["photo"]["part"] = part
            ask = {"ask": moves, "sheet": sheet, "views": views(chance)}
            await socket.send(json.dumps(ask))
            if await first_answer(socket, moves) is None:
                # What cannot be drawn (too many marks) is left for another look.
                sheet["plates"][0]["draw"] = {"look": "pencil"}
            if time.monotonic() - began > (minute + 1) * 60:
                minute += 1
                now, peak = memory_mb(process, "VmRSS"), memory_mb(process, "VmHWM")
                print(f"{minute:>4} min {moves:>7} moves {now:>7.0f} MB, peak {peak:.0f} MB")
                sys.stdout.flush()
    print(f"peak {memory_mb(process, 'VmHWM'):.0f} MB after {moves} moves")


async def first_answer(socket, number: int) -> dict | None:
    """The head of an ask's settled or draft main picture; None where it was refused."""
    while True:
        message = await socket.recv()
        if isinstance(message, str):
            said = json.loads(message)
            if said.get("ask") == number and "view" not in said:
                return None
            continue
        length = int.from_bytes(message[:4], "big")
        head = json.loads(message[4 : 4 + length])
        if head["ask"] == number and head["view"] == "main":
            return head


def main() -> None:
    """Serve, walk, and tell."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--minutes", type=float, default=60)
    parser.add_argument("--seed", type=int, default=1)
    chosen = parser.parse_args()
    port = free_port()
    address = f"http://127.0.0.1:{port}"
    with tempfile.TemporaryDirectory() as data:
        command = [sys.executable, "-m", "flinz", "serve", "--data", data, "--port", str(port)]
        with subprocess.Popen(command) as server:
            try:
                wait_for(address, server)
                photo = uploaded(address, large_photo())
                asyncio.run(walk(address, photo, server.pid, chosen.minutes, chosen.seed))
            finally:
                server.terminate()


if __name__ == "__main__":
    main()
