"""What is printed on a sheet: impressions in their order, on the bare paper."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Protocol

import numpy as np
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane
from flinz.core.planes.textures import Relief, lit, tops
from flinz.core.scale import Frame
from flinz.core.stages import ink, printing
from flinz.core.stages.blend import Blend, blended, mixed
from flinz.core.stages.paper import Paper

if TYPE_CHECKING:
    from flinz.core.press.results import Results


@dataclass(frozen=True, eq=False)
class Impression:
    """What one plate leaves on the sheet, all float32 of one frame.

    cover: (H, W) ink 0..1 where it lands. where: (H, W) share 0..1 that may print; None is all.
    photo: (H, W, 3), for an ink that takes the photo's own colours. hides: (H, W) share 0..1 of
    what lies beneath that bare paper takes away first. is_solid: whether ink is full where it is.
    """

    cover: Plane
    ink: ink.Ink
    where: Plane | None = None
    photo: NDArray[np.float32] | None = None
    hides: Plane | None = None
    is_solid: bool = False

    @property
    def share(self) -> Plane:
        """Ink (H, W) 0..1 where it may print."""
        return printing.share_of(self.cover, self.where)


class Instead(Protocol):
    """What a plate leaves that is not drawn by its look: ink, covered share, colours, in a frame of
    the sheet. Masks, register and hand work are part of it already.
    """

    def ink(self, ink: ink.Ink) -> ink.Ink:
        """The ink as it prints now."""

    def cover(self, frame: Frame) -> Plane:
        """Ink (H, W) 0..1."""

    def pictured(self, frame: Frame) -> NDArray[np.float32] | None:
        """Colours (H, W, 3) 0..1 of what covers; None where all are the ink's own."""


class Over(Protocol):
    """What is done to what a plate leaves, in a frame of the sheet."""

    def over(self, found: Impression, frame: Frame, results: "Results") -> Impression:
        """What it leaves then. results: where that may be remembered."""


def is_grey_sheet(paper: Paper, inks: Iterable[ink.Ink]) -> bool:
    """Whether paper and inks are all grey, so that one channel says everything."""
    return ink.is_grey_colour(paper.colour) and all(each.is_neutral for each in inks)


def bare(
    paper: Paper, frame: Frame, is_grey: bool, found: Relief | None = None
) -> NDArray[np.float32]:
    """The paper with nothing on it, (H, W) or (H, W, 3) float32 0..1, sRGB-encoded.

    found: its texture in the frame; None where it is to look even.
    """
    colour = ink.rgb_of(paper.colour)
    if found is not None:
        sheet = lit(colour[:1] if is_grey else colour, found, paper.depth)
        return sheet[..., 0] if is_grey else sheet
    if is_grey:
        return np.full((frame.height, frame.width), colour[0], np.float32)
    sheet = np.empty((frame.height, frame.width, 3), np.float32)
    sheet[:] = colour
    return sheet


def on_paper(
    sheet: NDArray[np.float32],
    impressions: list[Impression],
    bare_paper: NDArray[np.float32] | None = None,
) -> NDArray[np.float32]:
    """Impressions printed in their order on paper, or on what is printed there already.

    bare_paper: what shows where one hides that. Returns the shape of sheet.
    """
    paper = sheet if bare_paper is None else bare_paper
    for each in impressions:
        if each.hides is not None:
            sheet = mixed(sheet, paper, each.hides, Blend.NORMAL)
        sheet = printing.printed(sheet, each.cover, each.ink, each.where, each.photo, each.is_solid)
    return sheet


def on_nothing(impressions: list[Impression], height: int, width: int) -> NDArray[np.float32]:
    """Impressions printed in their order without any paper: (H, W, 4) float32, the colours and
    how much of each pixel they cover. The formula of W3C Compositing and Blending Level 1 over what
    lets through.
    """
    laid, alpha = np.zeros((height, width, 3), np.float32), np.zeros((height, width, 1), np.float32)
    for each in impressions:
        if each.hides is not None:
            left = 1 - each.hides[..., None]
            laid, alpha = np.asarray(laid * left), np.asarray(alpha * left)
        laid, alpha = _over(laid, alpha, each)
    colours = laid / np.maximum(alpha, np.float32(1e-6))
    return np.concatenate([np.clip(colours, 0, 1), alpha], -1)


def _over(
    laid: NDArray[np.float32], alpha: NDArray[np.float32], each: Impression
) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """What lies there with one more printed on it: colours times alpha, and alpha."""
    if each.is_solid and printing.stays_where_it_lies(each.ink):
        cover, ones = each.cover[..., None], np.ones_like(each.cover)
        laid_full, alpha_full = _over(laid, alpha, replace(each, cover=ones, is_solid=False))
        return (
            np.asarray(laid + cover * (laid_full - laid), np.float32),
            np.asarray(alpha + cover * (alpha_full - alpha), np.float32),
        )
    source, share = printing.laid_by(each.cover, each.ink, each.where, each.photo)
    for _ in range(round(each.ink.times)):
        under = np.asarray(laid / np.maximum(alpha, np.float32(1e-6)), np.float32)
        met = source + alpha * (blended(under, source, each.ink.blend) - source)
        laid = np.asarray(share * met + (1 - share) * laid, np.float32)
        alpha = np.asarray(share + (1 - share) * alpha, np.float32)
    return laid, alpha


def left_by_all(impressions: list[Impression], ndim: int) -> NDArray[np.float32]:
    """What impressions in plain inks, which hide nothing, leave of what lies beneath them."""
    left = _left_by(impressions[0], ndim)
    for each in impressions[1:]:
        left = left * _left_by(each, ndim)
    return left


def _left_by(each: Impression, ndim: int) -> NDArray[np.float32]:
    return printing.left_by(each.cover, each.ink, each.where, ndim, each.is_solid)


def held_on(cover: Plane, paper: Paper, found: Relief) -> Plane:
    """Ink (H, W) 0..1 as a paper holds it: it stays on the tops of its texture."""
    held = tops(paper.texture, found, paper.grain)
    return np.asarray(cover * (1 - np.float32(paper.tooth) * (1 - held)), np.float32)
