"""Guesses which recipes suit a photo, from figures of the photo alone."""

import numpy as np
from pydantic import BaseModel

from flinz.core.document.picture import Picture
from flinz.core.document.recipe import Recipe
from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import look_of
from flinz.core.looks.threshold import otsu_level
from flinz.core.planes.filters import Plane, blurred
from flinz.core.planes.flow import structure_tensor
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import whole
from flinz.core.press.parts import PHOTO
from flinz.core.press.press import Press
from flinz.core.press.proofing import Subject
from flinz.core.stages.grey import luminance_grey
from flinz.core.stages.smooth import is_drafted

LONG_EDGE_PX = 480
FINE_SIGMA, FORM_SIGMA = 1.0, 4.0
# Fine detail of about this spread of tone is as much as a photo has.
MUCH_DETAIL = 0.05
# Otsu's separability of an even spread of tones is three quarters; photos reach a little less.
EVENLY = 0.6


class PhotoFigures(BaseModel):
    """What decides which drawing suits, each 0..1.

    parted: how far tones fall into darks and lights (the separability of N. Otsu, 1979, from 0
    for an even spread of tones to 1 for two tones).
    fine: how much detail there is under a two-hundredth of the photo. led: how far edges
    nearby run the same way (coherence of the structure tensor; J. Bigün, 1987). spread: the
    range of tones without the outermost 2 %.
    """

    parted: float
    fine: float
    led: float
    spread: float


def photo_figures(press: Press, photo: Photo) -> PhotoFigures:
    """The figures of a photo."""
    press.gate({PHOTO})
    sheet = Sheet(picture=Picture(photo=photo.key))
    rgb = press.proof(photo, sheet, whole(sheet, photo, LONG_EDGE_PX), Subject("photo"))
    return figures_of(luminance_grey(rgb))


def figures_of(grey: Plane) -> PhotoFigures:
    """The figures of a grey picture, (H, W) float32 0..1."""
    low, high = np.quantile(grey, (0.02, 0.98))
    fine = float(np.std(grey - blurred(grey, FINE_SIGMA)))
    return PhotoFigures(
        parted=round(min(1.0, max(0.0, (_parted(grey) - EVENLY) / (1 - EVENLY))), 3),
        fine=round(min(1.0, fine / MUCH_DETAIL), 3),
        led=round(_led(grey), 3),
        spread=round(float(high - low), 3),
    )


def ranked(recipes: dict[str, Recipe], figures: PhotoFigures) -> list[str]:
    """Names of recipes, those that suit best first.

    The best recipe of each look comes before the second of any, so that whoever looks at the
    first few has seen different drawings.
    """
    scores = {name: suits(recipe, figures) for name, recipe in recipes.items()}
    order = sorted(recipes, key=lambda name: -scores[name])
    seen: dict[str, int] = {}
    turn = {}
    for name in order:
        look = look_of(recipes[name].plates[0].draw).name
        turn[name] = seen.get(look, 0)
        seen[look] = turn[name] + 1
    return sorted(order, key=lambda name: turn[name])


def suits(recipe: Recipe, figures: PhotoFigures) -> float:
    """How well a recipe suits a photo, 0..1: the mean over its plates."""
    scores = []
    for plate in recipe.plates:
        best = look_of(plate.draw).suits
        ideal, weight = np.array([best.parted, best.fine, best.led, best.spread]).T
        # A recipe that fits its tone to the photo gives itself the range.
        fits = any(path.startswith("tone.") for path in plate.fitted)
        spread = max(figures.spread, 0.9) if fits else figures.spread
        own = np.array([figures.parted, figures.fine, figures.led, spread])
        scores.append(1 - float(weight @ np.abs(own - ideal)) / float(weight.sum()))
    return float(np.mean(scores))


def is_quick(recipe: Recipe) -> bool:
    """Whether it shows at once: no plate lays marks, or smooths in a way that takes long."""
    return not any(
        look_of(plate.draw).draws_marks or is_drafted(plate.smooth) or is_drafted(plate.again)
        for plate in recipe.plates
    )


def _parted(grey: Plane) -> float:
    """Variance between darks and lights over all variance, at Otsu's level."""
    levels = np.rint(np.clip(grey, 0, 1) * 255).astype(np.uint8)
    dark = levels < 255 * otsu_level(grey)
    share = float(dark.mean())
    total = float(levels.var())
    if share in (0.0, 1.0) or total == 0:
        return 0.0
    apart = float(levels[~dark].mean()) - float(levels[dark].mean())
    return share * (1 - share) * apart * apart / total


def _led(grey: Plane) -> float:
    """Mean coherence of the structure tensor, strong edges counting more."""
    calm = blurred(grey, FINE_SIGMA)
    xx, xy, yy = (part.astype(np.float64) for part in structure_tensor(calm, FORM_SIGMA))
    trace = xx + yy
    if float(trace.sum()) <= 0:
        return 0.0
    coherence = np.sqrt((xx - yy) ** 2 + 4 * xy * xy)
    return float(coherence.sum() / trace.sum())
