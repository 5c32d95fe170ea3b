"""What `import flinz` offers: a recipe on a photo, its drawing, marks and shapes; an edition."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from os import PathLike
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from flinz.core.deliver.artwork import Artwork, VectorWish
from flinz.core.deliver.format import Delivery
from flinz.core.deliver.packed import opened
from flinz.core.deliver.registry import FORMATS, format_by_suffix, format_of_file
from flinz.core.deliver.shaping import artwork_of
from flinz.core.document import builtin, sheet_file
from flinz.core.document.setting import with_value
from flinz.core.document.sheet import Sheet
from flinz.core.document.sheet_file import PackedPhoto, PhotoWords, SheetFile
from flinz.core.edition import naming
from flinz.core.hand.pieces import id_of
from flinz.core.marks.vectors import Dots, Strokes
from flinz.core.planes.decoding import decode
from flinz.core.planes.photo import Photo
from flinz.core.press import fitting
from flinz.core.press.framing import sheet_mm, whole
from flinz.core.press.press import Press
from flinz.core.scale import px_for_dpi
from flinz.core.trace.figures import TraceFigures, figures_of
from flinz.drawing import (
    TRACED_CLOSENESS,
    TRACED_TONES,
    artwork_writer,
    is_sheet_file,
    recipe_of,
    wish_of,
)
from flinz.errors import DocumentError, PhotoError
from flinz.errors import FlinzError as FlinzError
from flinz.files import check_writable, read, write_whole
from flinz.series import MadePhoto as MadePhoto
from flinz.series import planned, template_of

Address = str | PathLike[str]


def recipes() -> dict[str, str]:
    """The names of the recipes that Flinz brings, each with what it is for."""
    return {recipe.name: recipe.purpose for recipe in builtin.built_in().values()}


def draw(photo: Address | bytes | NDArray[np.generic], recipe: Address = "pencil") -> "Drawing":
    """Put a recipe on a photo, as that photo wants it.

    photo: a picture file, its bytes, or pixels: (H, W) or (H, W, 3), uint8 or uint16, sRGB.
    recipe: the name of one that Flinz brings, or a recipe file (JSON). Raises PhotoError,
    NotFoundError, DocumentError.
    """
    title = "Untitled sheet"
    if isinstance(photo, np.ndarray):
        opened, data = _of_pixels(photo), None
    else:
        if not isinstance(photo, bytes):
            title, photo = Path(photo).stem[:200], read(Path(photo))
        opened, data = decode(photo, id_of(photo)), photo
    press = Press()
    sheet = fitting.on_photo(press, opened, recipe_of(str(recipe)), title)
    return Drawing(press, opened, sheet, data)


def open_sheet(path: Address) -> "Drawing":
    """Open a sheet file (.flinz), hand work and all. Raises NotFoundError, DocumentError."""
    file, press, photo = opened(read(Path(path)), str(path))
    return Drawing(press, photo, file.sheet, file=file)


class Drawing:
    """A sheet on its photo. It never changes: what sets a dial gives another one."""

    def __init__(
        self,
        press: Press,
        photo: Photo,
        sheet: Sheet,
        data: bytes | None = None,
        file: SheetFile | None = None,
    ) -> None:
        """Use draw or open_sheet instead."""
        self._press, self._photo, self._sheet = press, photo, sheet
        self._data, self._file = data, file

    @property
    def title(self) -> str:
        """What the sheet is called."""
        return self._sheet.title

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and height on paper, mm."""
        return sheet_mm(self._sheet, self._photo)

    @property
    def document(self) -> dict[str, Any]:
        """The sheet as its file holds it (docs/formats.md)."""
        return self._sheet.model_dump(mode="json")

    def set(self, dial: str, value: object, plate: int = 1) -> "Drawing":
        """The drawing with a dial set: "draw.level", "paper.long_edge" (docs/stages.md, looks.md).

        plate: which one, from 1. Dials that follow the photo are fitted anew only by draw. Raises
        DocumentError.
        """
        self._plate(plate)
        sheet = with_value(self._sheet, dial, value, plate - 1)
        return Drawing(self._press, self._photo, sheet, self._data, self._file)

    def array(
        self, *, long_edge: int | None = None, dpi: float | None = None
    ) -> NDArray[np.float32]:
        """The drawing, 0 black to 1 white, sRGB-encoded: (H, W) float32, (H, W, 3) in colour.

        long_edge: pixels; dpi: dots an inch at the sheet's size; without them the photo's own
        pixels.
        """
        if dpi is not None:
            if long_edge is not None:
                raise DocumentError("Give long_edge or dpi, not both.")
            long_edge = px_for_dpi(max(self.size_mm), dpi)
        frame = whole(self._sheet, self._photo, long_edge)
        return self._press.proof(self._photo, self._sheet, frame, exact=True)

    def marks(self, plate: int = 1) -> Dots | Strokes | None:
        """The dots or strokes of a plate in mm on paper; None where its look has none.

        Dots have x, y and radius; strokes x, y and width, all one after another, and first, where
        each begins.
        """
        return self._press.marks(self._photo, self._sheet, self._plate(plate))

    def trace(self, *, closeness: float = TRACED_CLOSENESS, **wishes: object) -> "Tracing":
        """The drawing as shapes. closeness: how near outlines stay, mm; wishes: those of
        docs/formats.md, such as specks, drop_paper or under_layer. Raises DocumentError.
        """
        asked = {"closeness": closeness, "tones": TRACED_TONES, **wishes}
        wish = wish_of(FORMATS["svg"], asked)
        assert isinstance(wish, VectorWish)  # noqa: S101  (so is that of SVG)
        return Tracing(artwork_of(self._delivery, wish), self.title)

    def save(self, path: Address, **wishes: object) -> None:
        """Write a file, whose end names its format; .flinz is a sheet file.

        wishes: those of that format (docs/formats.md), such as dpi, long_edge_px or depth. It is
        written in full or not at all. Raises DocumentError, StoreError.
        """
        target = Path(path)
        check_writable(target)
        if is_sheet_file(target):
            packed = sheet_file.packed(self._as_file())
            write_whole(target, lambda part: part.write_bytes(packed))
            return
        kind = format_of_file(target.name)
        wish = wish_of(kind, dict(wishes))
        write_whole(target, lambda part: kind.write(part, self._delivery, wish))

    @property
    def _delivery(self) -> Delivery:
        return Delivery(self._press, self._photo, self._sheet)

    def _plate(self, number: int) -> Any:
        if not 1 <= number <= len(self._sheet.plates):
            raise DocumentError(f"There is no plate {number}; there are {len(self._sheet.plates)}.")
        return self._sheet.plates[number - 1]

    def _as_file(self) -> SheetFile:
        if self._file is not None:
            return SheetFile(self._sheet, self._file.photos, self._file.hand, self._file.fonts)
        if self._data is None:
            raise DocumentError("A sheet file needs the photo's file; this one came as pixels.")
        photo = PackedPhoto(self._data, PhotoWords(title=self.title))
        return SheetFile(self._sheet, {self._photo.key: photo})


@dataclass(frozen=True)
class Tracing:
    """A drawing as shapes."""

    _artwork: Artwork
    _title: str

    @property
    def figures(self) -> TraceFigures:
        """How many shapes and segments, how long and how near outlines are."""
        return figures_of(self._artwork.tracings)

    def save(self, path: Address) -> None:
        """Write the shapes: SVG, PDF, EPS or DXF. Raises DocumentError, StoreError."""
        target = Path(path)
        write = artwork_writer(target)[1]
        write_whole(target, lambda part: write(part, self._artwork, self._title))


def edition(
    photos: Sequence[Address],
    by: Address,
    folder: Address,
    *,
    format: str = "png",
    words: str | Mapping[int, str] = "",
    table: Address | None = None,
    names: str = naming.USUAL,
    jobs: int | None = None,
    dask: str | None = None,
    resume: bool = False,
    told: Callable[[MadePhoto], None] = lambda photo: None,
    **wishes: object,
) -> list[MadePhoto]:
    """Draw many photos alike into a folder, in as many processes as there are cores.

    photos: files, or folders of them. by: a recipe's name, a recipe file or a sheet file. words:
    what lettering says, with fields in braces, of all plates or by their numbers from 1; table: a
    CSV with more fields. dask: the address of a cluster to draw on instead. resume: leave what is
    there already, drawn from the same. told: called with each photo that has ended. wishes: those
    of the format. Returns the photos in order, each with state "done", "kept" or "failed" and,
    where it failed, a sentence. Raises FlinzError where nothing can be drawn at all.
    """
    kind = format_by_suffix(format)
    wish = wish_of(kind, dict(wishes))
    template = template_of(str(by))
    if isinstance(words, str):
        given = [words] if words else []
    else:
        given = [f"{plate}={text}" for plate, text in words.items()]
    series = planned(
        [Path(photo) for photo in photos],
        template,
        kind,
        wish,
        Path(folder),
        words=given,
        table=None if table is None else Path(table),
        names=names,
    )
    series.said = told
    series.draw(resume=resume, jobs=jobs, dask=dask)
    return series.photos


def _of_pixels(pixels: NDArray[np.generic]) -> Photo:
    if pixels.ndim == 2:
        pixels = np.repeat(pixels[..., None], 3, 2)
    has_form = pixels.ndim == 3 and pixels.shape[2] == 3 and 0 not in pixels.shape
    if not has_form or pixels.dtype not in (np.uint8, np.uint16):
        raise PhotoError("Pixels are (H, W) or (H, W, 3) of uint8 or uint16.")
    whole_pixels = np.ascontiguousarray(pixels)
    return Photo(whole_pixels, id_of(whole_pixels.tobytes()))
