"""Marks in several sizes: closer and finer where there is much to see, or the hand wants it."""

from collections.abc import Callable, Hashable, Iterator
from dataclasses import dataclass, replace
from typing import Any, Generic, TypeVar

import cv2
import numpy as np

from flinz.core.dial import Dial, dial_of, held
from flinz.core.keeping import Holds, Keep
from flinz.core.looks.desk import Desk
from flinz.core.looks.toning import ToneWindow
from flinz.core.marks.vectors import Dots, Strokes, joined
from flinz.core.planes.filters import Plane, blurred, smoothstep
from flinz.core.planes.lattice import resampled
from flinz.core.scale import Frame

S = TypeVar("S", bound=ToneWindow)
M = TypeVar("M", Dots, Strokes)

# Sizes of marks, as powers of two of the dial's: from half to double.
LEVELS = (-1.0, -0.5, 0.0, 0.5, 1.0)
# Share of the way from one level to the next over which one gives way to the other.
GIVES_WAY = 0.3
# What is told apart as detail, how far it counts, and how fine the map of it is.
FINE_MM, AROUND_MM, MAP_PX_PER_MM = 0.8, 2.5, 2.0
# Of the sheet, by how much detail there is: what counts as plain, and what as all detail.
PLAIN, FULL, LEAST_DETAIL = 0.25, 0.97, 0.004


def follow_dial() -> Any:
    """The dial of looks whose marks can follow detail."""
    return Dial(
        0.0,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Follow detail",
        hint="Marks close up at detail, open in plain ground",
        group="Detail",
    )


def is_followed(settings: ToneWindow, desk: Desk) -> bool:
    """Whether marks differ in size over the sheet, by the dial or by hand."""
    return bool(getattr(settings, "detail", 0.0)) or desk.has_closer


@dataclass(frozen=True)
class Level(Generic[S]):
    """One size of marks over a sheet: the settings for it, and a desk whose tone asks for its share
    of the ink, where it is its turn. asked: the same of a tone in any frame of the sheet.
    """

    settings: S
    desk: Desk
    asked: Callable[[Plane, Frame], Plane]


def levels(
    settings: S,
    desk: Desk,
    sized: tuple[str, ...],
    is_chalk: bool = False,
    place: Desk | None = None,
) -> Iterator[Level[S]]:
    """The sizes of marks over a sheet.

    sized: the dials that make marks larger and smaller together, lengths or how many go to one.
    is_chalk: ink is what the tone lacks of black. place: the desk at which marks are placed where
    that is another one, which knows of a part of the sheet alone.
    """
    _, here = (place or desk).whole(MAP_PX_PER_MM)
    size = _sizes(settings, desk, here)
    for number, level in enumerate(LEVELS):
        share = _share(size, level)
        if share.max() <= 0.01:
            continue
        changed = {name: _sized(settings, name, level) for name in sized}
        if "detail" in type(settings).model_fields:
            changed["detail"] = 0.0
        asked = _asking(settings, share, here, is_chalk)
        own_desk = _level_desk(settings, place or desk, asked, number)
        yield Level(settings.model_copy(update=changed), own_desk, asked)


def overlaid(
    tone: Plane,
    settings: S,
    frame: Frame,
    desk: Desk,
    drawn: Callable[[Plane, S, Frame, Desk], Plane],
    sized: tuple[str, ...],
) -> Plane:
    """Ink of a look that draws marks from the tone in its frame, in all sizes that the hand asks
    for, as far as it asks for any.
    """
    if not desk.has_closer:
        return drawn(tone, settings, frame, desk)

    def of_all(tone: Plane, frame: Frame, desk: Desk) -> Plane:
        bare = np.ones((frame.height, frame.width), np.float32)
        for level in levels(settings, desk, sized):
            bare *= 1 - drawn(level.asked(tone, frame), level.settings, frame, level.desk)
        return np.asarray(1 - bare, np.float32)

    return desk.upright(of_all, tone, frame)


def followed(
    name: str,
    settings: S,
    desk: Desk,
    placed: Callable[[S, Desk], M],
    sized: tuple[str, ...],
    is_chalk: bool = False,
    settles: bool = True,
) -> M:
    """Marks of all sizes over a sheet, or of one where they follow nothing (see levels), as
    remembered by a name. settles: see Desk.marks, of one size.
    """
    wanted = settings.said

    if not is_followed(settings, desk):
        return desk.marks(name, wanted, lambda place: placed(settings, place), settles)

    def make(place: Desk) -> M:
        own_place = None if place is desk else place
        lots = levels(settings, desk, sized, is_chalk, own_place)
        return merged([placed(level.settings, level.desk) for level in lots])

    return desk.marks(name, wanted, make)


def merged(lots: list[M]) -> M:
    """All marks of several sizes, of one kind."""
    found: Any
    if isinstance(lots[0], Strokes):
        found = joined([lot for lot in lots if isinstance(lot, Strokes)])
        return found  # type: ignore[no-any-return]
    dots = [lot for lot in lots if isinstance(lot, Dots)]
    columns: dict[str, Any] = {
        name: np.concatenate([getattr(lot, name) for lot in dots])
        for name in ("x", "y", "radius", "angle", "own")
    }
    found = replace(dots[0], **columns, necks=joined([lot.necks for lot in dots]))
    return found  # type: ignore[no-any-return]


def _sized(settings: ToneWindow, name: str, level: float) -> float:
    """A dial's value for marks of a size."""
    # The more marks go to a length, the smaller they are.
    way = -level if dial_of(type(settings), name).unit.startswith("/") else level
    return held(type(settings), name, getattr(settings, name) * 2.0**way)


def _sizes(settings: ToneWindow, desk: Desk, here: Frame) -> Plane:
    """Sizes of marks in a frame of the map of the sheet, as powers of two of the dial's, -1..1."""
    amount = np.float32(getattr(settings, "detail", 0.0))
    size = np.zeros((here.height, here.width), np.float32)
    if amount > 0:
        whole, grid = desk.whole(MAP_PX_PER_MM)
        usual = desk.keep_form("usual", grid, lambda: _usual(*desk.form(MAP_PX_PER_MM)), alike=True)
        detail = desk.keep_tone("detail", grid, lambda: _detail(whole, grid, *usual), alike=True)
        size -= amount * detail[here.slices_in(grid)]
    closer = desk.closer(here)
    if closer is not None:
        size -= closer
    return np.clip(size, -1, 1, out=size)


def _detail(tone: Plane, grid: Frame, plain: float, full: float) -> Plane:
    """How much there is to see round each place, -1 in plain ground to 1."""
    doublings = np.log2(np.maximum(_around(tone, grid), plain / 4) / np.float32(plain))
    share = np.clip(doublings / np.float32(np.log2(full / plain)), 0, 1)
    return np.asarray(2 * share - 1, np.float32)


def _usual(tone: Plane, grid: Frame) -> tuple[float, float]:
    """How much there is to see in what counts as plain on a whole sheet, and as all detail."""
    around = _around(tone, grid)
    plain = max(float(np.quantile(around, PLAIN)), LEAST_DETAIL)
    return plain, max(float(np.quantile(around, FULL)), 2 * plain)


def _around(tone: Plane, grid: Frame) -> Plane:
    fine = np.abs(tone - blurred(tone, grid.px(FINE_MM)))
    return blurred(np.asarray(fine, np.float32), grid.px(AROUND_MM))


def _share(size: Plane, level: float) -> Plane:
    """How much of the ink is of one level, 0..1: all levels together come to 1."""
    step = LEVELS[1] - LEVELS[0]
    away = np.abs(size - np.float32(level)) / np.float32(step)
    low, high = 0.5 - GIVES_WAY / 2, 0.5 + GIVES_WAY / 2
    return np.asarray(1 - smoothstep(low, high, np.asarray(away, np.float32)), np.float32)


def _asking(
    settings: ToneWindow, share: Plane, here: Frame, is_chalk: bool
) -> Callable[[Plane, Frame], Plane]:
    """How a tone asks for a share of its ink, which is known in a frame of the map."""
    lightest = max(settings.lightest, settings.darkest + 0.01)
    span = np.float32(lightest - settings.darkest)

    def asked(tone: Plane, grid: Frame) -> Plane:
        if grid == grid.of_all:
            own = cv2.resize(share, (grid.width, grid.height), interpolation=cv2.INTER_LINEAR)
        else:
            own = resampled(share, here, grid)
        own = np.clip(own, 0, 1)
        ink = np.clip((np.float32(lightest) - tone) / span, 0, 1)
        # Marks of two sizes overlap at random: what both leave bare is the product.
        ink = ink**own if is_chalk else 1 - (1 - ink) ** own
        return np.asarray(np.float32(lightest) - span * ink, np.float32)

    return asked


def _level_desk(
    settings: ToneWindow, desk: Desk, asked: Callable[[Plane, Frame], Plane], number: int
) -> Desk:
    def whole(px_per_mm: float) -> tuple[Plane, Frame]:
        tone, grid = desk.whole(px_per_mm)
        return asked(tone, grid), grid

    return replace(
        desk,
        whole=whole,
        near=None,
        keep_whole=_keep(settings, number, desk.keep_whole),
        holds_whole=_holds(settings, number, desk.holds_whole),
        closer=lambda grid: None,
        has_closer=False,
    )


def _holds(settings: ToneWindow, number: int, holds_whole: Holds) -> Holds:
    def holds(name: str, parameters: Hashable, *, alike: bool = False) -> bool:
        return holds_whole(*_named(settings, number, name, parameters), alike=alike)

    return holds


def _keep(settings: ToneWindow, number: int, keep_whole: Keep) -> Keep:
    def keep(
        name: str, parameters: Hashable, make: Callable[[], Any], *, alike: bool = False
    ) -> Any:
        return keep_whole(*_named(settings, number, name, parameters), make, alike=alike)

    return keep


def _named(
    settings: ToneWindow, number: int, name: str, parameters: Hashable
) -> tuple[str, Hashable]:
    # What the share of a level depends on, beside the tone and the hand.
    amount = getattr(settings, "detail", 0.0)
    return f"{number}:{name}", (amount, settings.lightest, settings.darkest, parameters)
