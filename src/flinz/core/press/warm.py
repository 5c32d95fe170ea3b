"""Makes ready what is made at first use, part by part: kernels, compiled or loaded, and tiles.

`python -m flinz.core.press.warm` compiles all that is not in the cache yet, in as many processes
as there are cores; with --serve it makes ready the parts that it reads, line by line.
"""

import contextlib
import hashlib
import os
import platform
import subprocess
import sys
import threading
from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import cache, partial
from pathlib import Path
from queue import Empty, SimpleQueue

import numba
import numpy as np
from numba import njit

import flinz.core
from flinz.core.dial import Settings
from flinz.core.document.picture import Picture, Position
from flinz.core.document.plate import Plate, StageName
from flinz.core.document.sheet import Sheet
from flinz.core.hand.colours import apart
from flinz.core.hand.cutout import found, studied
from flinz.core.hand.raster import Placing, swept
from flinz.core.hand.strokes import Brush, Stroke
from flinz.core.looks.desk import bare_desk
from flinz.core.looks.look import Look
from flinz.core.looks.registry import LOOKS
from flinz.core.looks.threshold import Threshold
from flinz.core.marks.ordering import order_of
from flinz.core.marks.outlines import plainer, stroke_rings
from flinz.core.marks.vectors import Strokes
from flinz.core.planes.photo import Photo
from flinz.core.planes.textures import Surface, relief, soaked
from flinz.core.press.framing import whole
from flinz.core.press.parts import (
    CLEAN,
    GRAIN,
    HAIR,
    HAND,
    HUES,
    LIGHT,
    PHOTO,
    SMOOTHINGS,
    TEXTURES,
    TRACING,
)
from flinz.core.press.proofing import Proofing
from flinz.core.press.results import Results
from flinz.core.press.stopping import Stop, never
from flinz.core.scale import region_frame, whole_frame
from flinz.core.shapes import islands
from flinz.core.stages import grey
from flinz.core.stages.blend import Blend
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Colouring, Ink
from flinz.core.stages.paper import AsPicture
from flinz.core.stages.printing import printed
from flinz.core.stages.tone import Pull, Tone
from flinz.core.trace.tracing import TraceWish, points_of, traced

WHOLE, PART = (0.0, 0.0, 1.0, 1.0), (0.4, 0.4, 0.6, 0.6)
WIDTH, HEIGHT, WIDTH_MM = 64, 48, 200.0
# Where lengths of a stage must come to a pixel or more.
STAMP = AsPicture(long_edge=20.0)
# A compiler that nobody waits for gives way to drawings that somebody does.
NICE = 10
STOP_SECONDS = 0.1


def parts() -> dict[str, Callable[[], None]]:
    """What is made ready, by its name in words: the photo first, what is seldom wanted last."""
    looks = {look.label: partial(_look, look) for look in sorted(LOOKS.values(), key=_first)}
    return {
        PHOTO: _photo,
        CLEAN: _clean,
        **looks,
        HAND: _hand,
        HUES: partial(_stage, Plate(tone=Tone(hues=(Pull(hue=0, pull=0.2),))), "tone"),
        LIGHT: partial(_stage, Plate(tone=Tone(shadows=0.2, local=0.2)), "tone"),
        **{words: partial(_smooth, kind) for kind, words in SMOOTHINGS.items()},
        GRAIN: partial(_stage, Plate(tone=Tone(grain_amount=0.2)), "tone"),
        TEXTURES: _textures,
        TRACING: _tracing,
        # Is wanted only once something is cut out.
        HAIR: _hair,
    }


def _hand() -> None:
    points = np.array([[0.1, 0.1, 1.0], [0.6, 0.5, 0.4]])
    placing = Placing(np.array([[60.0, 0.0, 0.0], [0.0, 60.0, 0.0]]), (HEIGHT, WIDTH), 60.0)
    swept(Stroke(Brush(verb="lighten"), points), placing)


def _hair() -> None:
    # Takes long to import.
    from flinz.core.hand.hair import hair_edge

    rgb = np.zeros((HEIGHT, WIDTH, 3), np.float32)
    rgb[:, WIDTH // 2 :] = 1
    mask = rgb[..., 0] > 0
    photo = studied(rgb)
    # What this needs is imported by now.
    cut = replace(found(photo, [], 0.0), mask=mask)
    apart(rgb, hair_edge(photo, cut, 3.0))


def _tracing() -> None:
    # A blot with a hole and corners, and strokes of one width and of many.
    cover = np.zeros((3 * HEIGHT, 3 * WIDTH), np.float32)
    cover[20:-20, 20:-20] = 1
    cover[40:-40, 40:-60] = 0
    tracing = traced(cover, whole_frame(WIDTH_MM, 3 * WIDTH, 3 * HEIGHT), TraceWish())
    outline = points_of(tracing.curves, 8)[:, 0].astype(np.float32)
    width = np.linspace(0.1, 1.0, len(outline), dtype=np.float32)
    first = np.array([0, len(outline)])
    strokes = plainer(Strokes(outline[:, 0], outline[:, 1], width, first), 0.01)
    stroke_rings(strokes)
    order_of(tracing.curves[:, :2], tracing.curves[:, 6:])


def _textures() -> None:
    frame = whole_frame(WIDTH_MM, WIDTH, HEIGHT)
    relief(Surface.WOVE, frame, 1.0, 0.0)
    soaked(_shade(), frame, 1.0, 1.0)


def warm_up(stop: Stop = never) -> Iterator[str]:
    """Make everything ready in this process; yields each part that is. Ends early on stop()."""
    for name, make in parts().items():
        if stop():
            return
        make()
        yield name


def is_compiled() -> bool:
    """Whether compile_all has come to its end with these sources on a machine like this one."""
    return _stamp().exists()


def compile_all(
    told: Callable[[str], None] = lambda name: None, stop: Stop = never, first: str = PHOTO
) -> None:
    """Compile all kernels into the cache, in as many processes as there are cores.

    told: called with each part that is done, from threads. first: the part to begin with. Ends
    early on stop(). Raises ChildProcessError if a process fails.
    """
    waiting: SimpleQueue[str] = SimpleQueue()
    for name in sorted(parts(), key=lambda name: name != first):
        waiting.put(name)
    compilers = [_Compiler(waiting, told) for _ in range(os.cpu_count() or 1)]
    try:
        while any(compiler.thread.is_alive() for compiler in compilers):
            compilers[0].thread.join(STOP_SECONDS)
            compilers[-1].thread.join(STOP_SECONDS)
            if stop():
                return
    finally:
        for compiler in compilers:
            compiler.end()
    if any(compiler.has_failed for compiler in compilers):
        raise ChildProcessError("A process that compiles kernels has failed.")
    _stamp().parent.mkdir(parents=True, exist_ok=True)
    _stamp().touch()


class _Compiler:
    """A process that makes ready parts from a queue until that is empty, and who feeds it."""

    def __init__(self, waiting: SimpleQueue[str], told: Callable[[str], None]) -> None:
        command = [sys.executable, "-m", "flinz.core.press.warm", "--serve"]
        self._process = subprocess.Popen(
            command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, bufsize=1
        )
        self.has_failed = False
        self.thread = threading.Thread(target=self._feed, args=(waiting, told))
        self.thread.start()

    def end(self) -> None:
        """End the process, whatever it is at, and wait for who feeds it."""
        self._process.kill()
        self.thread.join()
        self._process.communicate()

    def _feed(self, waiting: SimpleQueue[str], told: Callable[[str], None]) -> None:
        to, back = self._process.stdin, self._process.stdout
        assert to and back  # noqa: S101  (PIPE gives both)
        with contextlib.suppress(Empty, BrokenPipeError):
            while True:
                name = waiting.get_nowait()
                to.write(f"{name}\n")
                if back.readline().strip() != name:
                    self.has_failed = True
                    return
                told(name)


def _first(look: Look) -> tuple[bool, bool, str]:
    # What a new sheet begins with, then what is drawn without marks.
    starts = type(Plate.model_fields["draw"].default)
    return look.settings is not starts, look.draws_marks, look.label


def _photo() -> None:
    _stage(Plate(tone=Tone(contrast=0.2)), "tone")
    grey.luminance_grey(np.zeros((HEIGHT, WIDTH, 3), np.float32))
    # Wherever it lies on the paper.
    laid = Picture(position=Position(turn=7.0))
    sheet, photo = Sheet(paper=STAMP, picture=laid), _tiny(np.uint8)
    _proofing(photo, sheet).photo_shown(whole(sheet, photo))
    # And however it is printed.
    bare = np.ones((HEIGHT, WIDTH, 3), np.float32)
    for way in (Ink(), Ink(blend=Blend.NORMAL), Ink(colouring=Colouring.TWO_COLOUR)):
        printed(bare, _shade(), way)


def _clean() -> None:
    # Of the look that is drawn soonest.
    _stage(Plate(draw=Threshold(), clean=Clean(smooth=0.5, specks=0.1)), "clean")
    islands.made_ready()


def _stage(plate: Plate, stage: StageName) -> None:
    sheet = Sheet(plates=[plate], paper=STAMP)
    # A photo comes with 8 or 16 bits, whole or in part, as it is, smaller or larger.
    for photo in (_tiny(np.uint8), _tiny(np.uint16)):
        for edge in (None, 40, 80):
            frame = whole(sheet, photo, edge)
            for region in (WHOLE, PART):
                proofing = _proofing(photo, sheet)
                if stage == "tone":
                    proofing.toned(plate, region_frame(frame, region))
                else:
                    proofing.cover(plate, region_frame(frame, region), stage)


def _smooth(kind: type[Settings]) -> None:
    plate = Plate.model_validate({"smooth": kind()})
    sheet, photo = Sheet(plates=[plate], paper=STAMP), _tiny(np.uint8)
    _proofing(photo, sheet).smoothed(plate, whole(sheet, photo))


def _look(look: Look) -> None:
    # From a tone alone: what comes before and after a look are parts of their own.
    tone, frame = _shade(), whole_frame(WIDTH_MM, WIDTH, HEIGHT)
    for settings in (look.settings(), *look.rehearsed):
        look.draw(tone, settings, frame, bare_desk(tone, frame))
    look.suggested(tone, frame)
    look.made_ready()


def _proofing(photo: Photo, sheet: Sheet) -> Proofing:
    return Proofing(Results(0), photo, sheet, exact=True)


def _shade() -> np.ndarray:
    return np.linspace(0, 1, HEIGHT * WIDTH, dtype=np.float32).reshape(HEIGHT, WIDTH)


def _tiny(kind: type[np.unsignedinteger]) -> Photo:
    top = np.iinfo(kind).max
    shade = _shade()
    pixels = np.stack([shade, shade.T.reshape(HEIGHT, WIDTH), shade[::-1]], -1) * top
    return Photo(np.ascontiguousarray(pixels.astype(kind)), f"warm-up, {top}")


@cache
def _stamp() -> Path:
    """The file that says: compiled. Another source, compiler or processor has another one."""
    folder = Path(flinz.core.__file__).parent
    sources = sorted(folder.rglob("*.py"))
    said = [numba.__version__, platform.python_version(), platform.machine(), platform.processor()]
    said += [f"{path.relative_to(folder)} {path.stat().st_mtime_ns}" for path in sources]
    digest = hashlib.blake2b("|".join(said).encode(), digest_size=12).hexdigest()
    # Beside the kernels, so that both come and go together.
    return Path(_cached_kernel.stats.cache_path or folder) / f"flinz-kernels-{digest}"


@njit(cache=True)
def _cached_kernel() -> None:
    """A kernel that does nothing, but knows where kernels are cached."""


def main() -> None:
    """Compile everything, or with --serve the parts that are asked for on standard input."""
    if "--serve" not in sys.argv:
        if not is_compiled():
            # Nobody waits for a look here: what takes longest first is done soonest.
            compile_all(first=TRACING)
        return
    os.nice(NICE)
    known = parts()
    for line in sys.stdin:
        known[line.strip()]()
        print(line.strip(), flush=True)


if __name__ == "__main__":
    main()
