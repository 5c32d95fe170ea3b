"""One proof's memory: under which key each step is remembered, and what stops it."""

from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

from flinz.core.document.picture import Picture
from flinz.core.document.plate import STAGES, Plate, StageName, hand_of
from flinz.core.document.sheet import Sheet
from flinz.core.keeping import Keep
from flinz.core.looks.registry import look_of
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import Box, LaidBox, laid_picture, sheet_mm
from flinz.core.press.impressions import Instead
from flinz.core.press.keys import content_key, step_key
from flinz.core.press.listed import Strokes
from flinz.core.press.origins import Made, Origin
from flinz.core.press.results import Results
from flinz.core.press.stopping import Stop, check, never
from flinz.core.press.told import Told
from flinz.core.scale import Frame
from flinz.core.stages import smooth

FIRST_STAGES: tuple[StageName, ...] = ("tone", "smooth", "again")


def thinning(plate: Plate) -> tuple[Any, ...]:
    """The fade of a plate drawn in marks: they thin out with it, in one ink throughout."""
    return plate.ink.fading if look_of(plate.draw).marks else ()


@dataclass(frozen=True)
class Remembering:
    """What a proof is of, how it is drawn, and the results that it shares with others.

    photo: that plates are drawn from; the sheet's unless of says otherwise. exact: as the export is
    drawn. draft: without what only settles marks. of: what plates are drawn from where that is not
    the sheet's picture. is_resized: whether a hand makes that larger or smaller. within: of a sheet
    that lies on another, what is drawn in place of its plates, by id; None for the outermost, of
    which results say it. stretch: how many times more it is scaled down its box than across,
    meanwhile. told: what is known of the sheet's plates by now.
    """

    results: Results
    photo: Photo
    sheet: Sheet
    exact: bool = False
    draft: bool = False
    stop: Stop = never
    of: Origin | None = None
    is_resized: bool = False
    within: Mapping[str, Instead] | None = None
    stretch: float = 1.0
    told: Told = field(default_factory=Told, repr=False, compare=False)

    @cached_property
    def laid(self) -> LaidBox:
        """The box of what is drawn from and how it lies on the paper."""
        if self.made is None:
            return laid_picture(self.sheet, self.picture, self.photo, self.paper_mm)
        laid = self.made.laid(self.paper_mm)
        if self.stretch == 1:
            return laid
        return LaidBox(laid.box, replace(laid.lay, stretch=self.stretch), fills=False)

    @property
    def made(self) -> Made | None:
        """What is drawn from where that is no photo."""
        return self.of.made if self.of else None

    @property
    def picture(self) -> Picture:
        """The picture that is drawn from."""
        return self.of.picture if self.of else self.sheet.picture

    @cached_property
    def paper_mm(self) -> tuple[float, float]:
        """Width and height of the paper."""
        return self.of.paper_mm if self.of else sheet_mm(self.sheet, self.photo)

    @property
    def box(self) -> Box:
        """The box that plates are drawn in."""
        return self.laid.box

    def keeper(self, step: str, before: str, where: Frame | float) -> Keep:
        """A Keep for the parts of a step in a frame, or (the box's long edge in mm) in all."""

        def keep(
            name: str, parameters: Hashable, make: Callable[[], Any], *, alike: bool = False
        ) -> Any:
            key = self.key(step, before, (name, parameters), where, alike)
            return self._remembered(f"{step}:{name}", key, make)

        return keep

    @cached_property
    def photo_key(self) -> str:
        """Key of what is drawn from: the photo as it is cropped, or what is made."""
        if self.made is not None:
            return self.made.key
        return content_key(self.photo.key, self.picture.crop)

    def key_after(self, plate: Plate, stage: StageName) -> str:
        """Key of all that comes before the end of a stage, apart from the frame."""
        what, about = ("key after", stage, self.draft), (plate, self.photo, self.sheet, self.of)
        return self.told.get(what, about, lambda: self._key_after(plate, stage))

    def _key_after(self, plate: Plate, stage: StageName) -> str:
        upto = STAGES[: STAGES.index(stage) + 1]
        settings = tuple(getattr(plate, name) for name in upto)
        # Tone is the same in a draft; a smoothing is where it is quick; from Draw on nothing is.
        differs = stage not in FIRST_STAGES or any(map(smooth.is_drafted, settings[1:]))
        hand = tuple(self.hand_key(plate, name) for name in upto)
        part: tuple[Any, ...] = ()
        if plate.photo.is_grounded:
            # A draft may have a harder edge.
            part = plate.photo.part, plate.photo.ground, self.cutout_key
            differs = True
        if stage not in FIRST_STAGES:
            part += thinning(plate)
        return content_key(self.photo_key, settings, hand, part, self.draft and differs)

    def key_before_draw(self, plate: Plate) -> str:
        """Key of the tone that Draw gets, apart from the frame."""
        hand = self.hand_key(plate, "draw")
        return content_key(self.key_after(plate, "again"), thinning(plate), hand)

    def listed(self, list_id: str) -> Strokes:
        """The strokes of a list by its id, remembered."""
        stock = self.results.stock

        def make() -> Strokes:
            before = stock.made_of(list_id)
            known = [] if before in (None, list_id) else list(self.listed(before).keys)
            return Strokes(stock.strokes_of(list_id), known)

        listed: Strokes = self.step("strokes", "", list_id, (), make, alike=True)
        return listed

    def at_rest(self, plate: Plate) -> Plate:
        """A plate without the stroke that is still being made."""
        if not hand_of(plate):
            return plate
        made = {name: self.results.stock.made_of(each) for name, each in plate.hand.items()}
        hand = {name: each for name, each in made.items() if each is not None}
        return plate if hand == plate.hand else plate.model_copy(update={"hand": hand})

    def hand_key(self, plate: Plate, stage: StageName) -> tuple[str, ...]:
        """What decides the hand work of a plate's stage; empty without any.

        Strokes that are kept to a part of the photo follow its cutout.
        """
        list_id = hand_of(plate).get(stage)
        if list_id is None:
            return ()
        return (list_id, self.cutout_key) if self.listed(list_id).is_kept else (list_id,)

    def part_key(self, plate: Plate) -> tuple[Any, ...]:
        """What decides which part of its ink a plate leaves, and the line along the cutout."""
        return (plate.photo, self.cutout_key) if plate.photo.needs_cutout else ()

    @cached_property
    def cutout_key(self) -> str:
        """Key of all that decides the cutout."""
        if self.made is not None:
            return self.made.key
        picture = self.picture
        return content_key(self.photo_key, self.sheet.cutouts.get(picture.photo), picture.cutout)

    def key(
        self,
        kind: str,
        before: str,
        settings: Any,
        where: Frame | tuple[int, ...] | float,
        alike: bool,
    ) -> str:
        """The key of a step's result; alike: a draft comes to the same."""
        draft = self.draft and not alike
        return step_key(kind, before=before, settings=settings, where=where, draft=draft)

    def step(
        self,
        kind: str,
        before: str,
        settings: Any,
        where: Frame | tuple[int, ...] | float,
        make: Callable[[], Any],
        *,
        alike: bool = False,
        is_small_copy: bool = False,
    ) -> Any:
        """What a step comes to, made or remembered; alike: a draft comes to the same."""
        key = self.key(kind, before, settings, where, alike)
        return self._remembered(kind, key, make, is_small_copy=is_small_copy)

    def _remembered(
        self, kind: str, key: str, make: Callable[[], Any], *, is_small_copy: bool = False
    ) -> Any:
        check(self.stop)
        return self.results.get(kind, key, make, is_small_copy=is_small_copy)
