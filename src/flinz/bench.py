"""Times stages and looks as multiples of one Gaussian blur of the same picture."""

import io
import statistics
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from PIL import Image

from flinz.core.deliver.artwork import Artwork, Item, Layer
from flinz.core.deliver.registry import FORMATS
from flinz.core.document.builtin import named
from flinz.core.document.picture import Position
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.document.source import FromLettering, FromPicture
from flinz.core.edition import crew
from flinz.core.edition.task import Order, Task
from flinz.core.edition.template import of_recipe
from flinz.core.ground.lettering import Lettering
from flinz.core.ground.lines import Lines, figure_of
from flinz.core.looks.registry import LOOKS
from flinz.core.marks.vectors import Dots
from flinz.core.planes.decoding import decode
from flinz.core.planes.photo import Photo, Pixels
from flinz.core.planes.textures import ROUGHER, relief
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import OwnSize
from flinz.core.stages.smooth import EdgeKeeping, Gaussian, Median
from flinz.core.stages.tone import Tone
from flinz.core.trace.tracing import TraceWish, traced
from flinz.demo.scenario import picture

SMALL_PX, LARGE_PX = 1400, 6000
# What a texture of paper may cost.
TEXTURE_GAUSSIANS = 12.0
RUNS, LARGE_RUNS = 7, 3
MOST_PLATES = 24
# Room for a drawing of 24 MP and what comes before it.
CLEAN_MEMORY_BYTES = 2_000_000_000
# Files of 100,000 dots are to be written within so many milliseconds.
DOTS_MS = (("svg", 3000.0), ("pdf", 5000.0))
# An edition: so many photos of 12 MP, by a recipe; on two cores 1.7 times as fast as on one.
SERIES, SERIES_PX, SERIES_RECIPE = 32, 4240, "pencil"
LEAST_GAIN = 1.7


def run(quick: bool = False, large: Photo | None = None) -> list[dict[str, Any]]:
    """Print the table and return its rows: name, px, ms, multiple, figure, bound, holds.

    large: a photo of about 24 MP; without one it is made from the demo's.
    """
    photo = decode(picture("scarecrow.jpg"), "bench")
    rows: list[dict[str, Any]] = []
    print(f"{'work':<34}{'long edge':>10}{'ms':>9}{'x Gaussian':>12}{'bound':>7}")
    for edge in (SMALL_PX,) if quick else (SMALL_PX, LARGE_PX):
        subject = large if large and edge == LARGE_PX else resized_with_grain(photo, edge)
        for row in _table(subject, edge, RUNS if edge == SMALL_PX else LARGE_RUNS):
            rows.append(row)
            bound = "" if row["bound"] is None else f"{row['bound']:g}"
            mark = "" if row["holds"] else "  over"
            print(
                f"{row['name']:<34}{row['px']:>10}{row['ms']:>9.1f}{row['multiple']:>12.1f}"
                f"{bound:>7}{mark}"
            )
    for row in [*_source_rows(photo), *([] if quick else [_series_row(photo)])]:
        rows.append(row)
        mark = "" if row["holds"] else "  over"
        print(f"{row['name']:<44}{row['figure']:>9.2f}{row['bound']:>19.3g}{mark}")
    return rows


def _source_rows(photo: Photo) -> list[dict[str, Any]]:
    """What a sheet of many plates and sources costs, in times or milliseconds."""
    few, many = (_turned_ms(photo, _many_plates(count)) for count in (1, MOST_PLATES))
    line = Lines(nib="marks", along="wave", wide=3000, high=20, spacing=0.6, size=0.5)
    strewn = _median_ms(lambda: figure_of(line, (0, 0), []), 7)
    rng = np.random.default_rng(7)
    x, y = rng.uniform(0, 200, (2, 100_000)).astype(np.float32)
    dots = Dots(x, y, rng.choice(np.linspace(0.1, 0.3, 20), 100_000).astype(np.float32))
    figures = (
        *((f"100,000 dots to {kind}, ms", _dots_ms(dots, kind), ms) for kind, ms in DOTS_MS),
        (f"a dial of {MOST_PLATES} plates over one of 1", many / few, 1.5),
        ("5,000 marks along a line, ms", strewn, 200.0),
    )
    return [
        {"name": name, "px": SMALL_PX, "figure": figure, "bound": bound, "holds": figure <= bound}
        for name, figure, bound in figures
    ]


def _series_row(photo: Photo) -> dict[str, Any]:
    """What an edition takes in as many processes as there are cores, over what it takes in one."""
    large = resized_with_grain(photo, SERIES_PX)
    data = as_jpeg(large.pixels[: SERIES_PX * 2 // 3])
    wish = FORMATS["png"].wish.model_validate({"dpi": 300})
    order = Order(of_recipe(named(SERIES_RECIPE)), wish, "series")
    hands = crew.hands_here()
    alone, together = (_series_ms(Task(data, order), each) for each in (1, hands))
    figure, bound = together / alone, 1.0 if hands == 1 else 1 / LEAST_GAIN
    name = f"{SERIES} photos of 12 MP in {hands} processes over one"
    return {
        "name": name,
        "px": SERIES_PX,
        "figure": figure,
        "bound": bound,
        "holds": figure <= bound,
    }


def _series_ms(task: Task, hands: int) -> float:
    with tempfile.TemporaryDirectory() as folder:
        works = [crew.Work(k, lambda: task, Path(folder) / f"{k}.png") for k in range(SERIES)]
        return _once_ms(lambda: crew.draw(works, lambda told: None, lambda: False, hands))


def _dots_ms(dots: Dots, kind: str) -> float:
    black = (0.0, 0.0, 0.0)
    artwork = Artwork(200, 200, None, [Layer("dots", "Dots", black, [Item(dots, black)])])
    write = FORMATS[kind].write_artwork
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"dots.{kind}"
        return _median_ms(lambda: write and write(path, artwork, ""), 3)


def _many_plates(count: int) -> Sheet:
    looks = ("stipple", "pencil", "ink-line", "photocopy", "crosshatch", "threshold")
    plates = [Plate(draw=LOOKS["threshold"].settings())]
    for k in range(1, count):
        words = FromLettering(lettering=Lettering(words=f"Line {k}"), position=Position(y=6.0 * k))
        plates.append(
            Plate(
                id=f"plate-{k + 1}",
                source=words if k % 2 else FromPicture(),
                draw=LOOKS[looks[k % len(looks)]].settings(),
                ink=Ink(opacity=0.3),
            )
        )
    return Sheet(plates=plates, paper=OwnSize(width=200, height=150))


def _turned_ms(photo: Photo, sheet: Sheet) -> float:
    """A move of the first plate's tone, once those before it have been drawn."""
    press, frame = Press(), whole(sheet, photo, SMALL_PX)
    times = []
    for k in range(10):
        plate = sheet.plates[0]
        moved = plate.model_copy(update={"tone": Tone(contrast=0.01 * k)})
        turned = sheet.with_plate(moved)
        times.append(_once_ms(partial(press.proof, photo, turned, frame)))
    return statistics.median(times[3:])


def resized_with_grain(photo: Photo, edge: int) -> Photo:
    """The photo at another size, with fresh sensor grain so that its detail is not all smooth."""
    height = round(edge * photo.height / photo.width)
    way = cv2.INTER_AREA if edge < photo.width else cv2.INTER_CUBIC
    resized = cv2.resize(photo.pixels, (edge, height), interpolation=way)
    grain = np.random.default_rng(24).normal(0, 2.5, resized.shape[:2])
    grained = np.clip(resized + grain[..., None], 0, 255).astype(np.uint8)
    return Photo(grained, f"bench-{edge}")


def as_jpeg(pixels: Pixels, quality: int = 90) -> bytes:
    """Pixels as the bytes of a JPEG."""
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "JPEG", quality=quality)
    return out.getvalue()


def _table(photo: Photo, edge: int, runs: int) -> list[dict[str, Any]]:
    plain = Sheet(plates=[Plate()])
    frame = whole(plain, photo, edge)
    grey = Press(0).cover(photo, plain, plain.plates[0], frame)

    def gaussian() -> Any:
        return cv2.GaussianBlur(grey, (0, 0), 3)

    unit = _median_ms(gaussian, 25)
    rows = [_row("one Gaussian", edge, unit, unit, None)]

    def timed(name: str, bound: float | None, work: Callable[[], Any]) -> None:
        rows.append(_row(name, edge, *_paired_ms(work, gaussian, runs), bound))

    def full(plate: Plate) -> Callable[[], Any]:
        sheet = Sheet(plates=[plate])
        return lambda: Press(0).proof(photo, sheet, frame, exact=True)

    if edge == LARGE_PX:
        pen = Plate(draw=LOOKS["ink-line"].settings())
        line = Press(0).cover(photo, Sheet(plates=[pen]), pen, frame, exact=True)
        timed("tracing, ink line", 40, partial(traced, line, frame, TraceWish()))
    tone = Tone(black=0.05, white=0.95, middle=0.45, contrast=0.3)
    for name, look in LOOKS.items():
        draw = look.settings()
        timed(f"{name}, full run", look.gaussians, full(Plate(tone=tone, draw=draw)))
    for surface in ROUGHER:
        timed(f"paper, {surface}", TEXTURE_GAUSSIANS, partial(relief, surface, frame, 1.0, 120.0))
    for smooth in (Gaussian(radius=1), Median(radius=0.5), EdgeKeeping()):
        press = Press()
        _warmed(press, photo, Plate(tone=tone, draw=LOOKS["threshold"].settings()), frame)
        plate = Plate(tone=tone, smooth=smooth, draw=LOOKS["threshold"].settings())
        timed(f"Smooth {smooth.kind} to Ink", None, _turning(press, photo, plate, frame, "tone"))
    for name, look in LOOKS.items():
        # The drawing itself is remembered, as it is on the bench.
        press, drawn = Press(CLEAN_MEMORY_BYTES), Plate(tone=tone, draw=look.settings())
        _warmed(press, photo, drawn, frame)
        for clean in (Clean(specks=0.1), Clean(smooth=0.3), Clean(sharpen=1.0)):
            dial = next(k for k, v in clean.model_dump().items() if v and k != "sharpen_radius")
            plate = drawn.model_copy(update={"clean": clean})
            turned = _turning(press, photo, plate, frame, "clean", dial)
            timed(f"Clean {dial} after {name}", 8, turned)
    return rows


def _warmed(press: Press, photo: Photo, plate: Plate, frame: Any) -> None:
    press.proof(photo, Sheet(plates=[plate]), frame, exact=True)


def _turning(
    press: Press, photo: Photo, plate: Plate, frame: Any, stage: str, dial: str = "contrast"
) -> Callable[[], Any]:
    """Work that turns one dial a little further each time, as a drag does."""
    turn = 0

    def work() -> Any:
        nonlocal turn
        turn += 1
        settings = getattr(plate, stage)
        value = getattr(settings, dial) + 0.001 * turn
        changed = plate.model_copy(update={stage: settings.model_copy(update={dial: value})})
        return press.proof(photo, Sheet(plates=[changed]), frame, exact=True)

    return work


def _paired_ms(work: Callable[[], Any], unit: Callable[[], Any], runs: int) -> tuple[float, float]:
    # The machine's speed drifts within a run of the bench, so the unit is timed again beside
    # each piece of work.
    work()
    times, units = [], []
    for _ in range(runs):
        times.append(_once_ms(work))
        unit()  # brings its picture back into the caches
        units.append(_once_ms(unit))
    return statistics.median(times), statistics.median(units)


def _median_ms(work: Callable[[], Any], runs: int) -> float:
    work()
    return statistics.median(_once_ms(work) for _ in range(runs))


def _once_ms(work: Callable[[], Any]) -> float:
    began = time.perf_counter()
    work()
    return (time.perf_counter() - began) * 1000


def _row(name: str, px: int, ms: float, unit: float, bound: float | None) -> dict[str, Any]:
    multiple = ms / unit
    return {
        "name": name,
        "px": px,
        "ms": round(ms, 2),
        "multiple": round(multiple, 2),
        "figure": round(multiple, 2),
        "bound": bound,
        "holds": bound is None or multiple <= bound,
    }
