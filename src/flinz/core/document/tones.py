"""The tones of a photo, and dials taken from those of one photo to those of another."""

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from flinz.core.dial import Settings, held
from flinz.core.stages.ink import Ink
from flinz.core.stages.tone import LEAST_SPAN, Tone

# A photo with less between its black and its white has no tones to be matched.
FLAT = 0.02
# Darks are opened at most by this power, and lights closed: what lies in a dark photo's blacks is
# mostly noise.
MOST_POWER = 3.0
# Powers that are tried: a step of them moves a middle by less than a step of 255.
TRIED = 801
# How near to black or white, as a share of its range, a middle still tells of its curve.
RIM = 0.01


class PhotoTones(Settings):
    """The tones of a photo, 0..1: what counts as black and white in it, and its median."""

    black: float = Field(ge=0, le=1, allow_inf_nan=False)
    white: float = Field(ge=0, le=1, allow_inf_nan=False)
    middle: float = Field(ge=0, le=1, allow_inf_nan=False)

    @property
    def is_flat(self) -> bool:
        """Whether there is next to nothing between black and white."""
        return self.white - self.black < FLAT


def matched_tone(settings: Tone, first: PhotoTones, now: PhotoTones) -> Tone:
    """Tone with its levels set so that the tones of a photo come to lie where the first's did.

    first, now: the tones that came to the curve on the photo it was set on, and that come to it
    on this one. Unchanged where either photo is flat.
    """
    if first.is_flat or now.is_flat:
        return settings
    span = max(settings.white - settings.black, LEAST_SPAN)

    def place(tone: float) -> float:
        return float((tone - settings.black) / span)

    power = math.log(0.5) / math.log(settings.middle)
    # Where the first photo's black, middle and white came to lie; what was clipped stays clipped.
    was = [place(tone) for tone in (first.black, first.middle, first.white)]
    lay = _outcome(np.array(was[1]), power)
    powers = power * np.geomspace(1 / MOST_POWER, MOST_POWER, TRIED)
    black_at, white_at = (_source(_outcome(np.array(at), power), at, powers) for at in was[::2])
    spans = (now.white - now.black) / np.maximum(white_at - black_at, LEAST_SPAN)
    blacks = now.black - black_at * spans
    best = int(np.argmin(np.abs(_outcome((now.middle - blacks) / spans, powers) - lay)))
    wanted = {
        "black": float(blacks[best]),
        "white": float(blacks[best] + spans[best]),
        "middle": 0.5 ** (1 / float(powers[best])),
    }
    within = {name: _within(name, value) for name, value in wanted.items()}
    return settings.model_copy(update=within)


def _outcome(place: NDArray[np.float64], power: Any) -> NDArray[np.float64]:
    return np.asarray(np.clip(place, 0, 1) ** power, np.float64)


def _source(
    outcome: NDArray[np.float64], place: float, powers: NDArray[np.float64]
) -> NDArray[np.float64]:
    """Where a tone must lie to come to an outcome by each power; beyond the ends where it was."""
    return outcome ** (1 / powers) if 0 < place < 1 else np.full_like(powers, place)


def matched_ink(settings: Ink, first: PhotoTones, now: PhotoTones) -> Ink:
    """Ink with the tones at which it prints taken to where they are on another photo."""
    if first.is_flat or now.is_flat or settings.prints_everywhere:
        return settings
    was = _held((first.middle - first.black) / (first.white - first.black))
    comes = _held((now.middle - now.black) / (now.white - now.black))
    power: float = min(MOST_POWER, max(1 / MOST_POWER, math.log(comes) / math.log(was)))

    def moved(tone: float) -> float:
        part = min(1.0, max(0.0, (tone - first.black) / (first.white - first.black)))
        return float(round(now.black + part**power * (now.white - now.black), 4))

    update = {}
    if settings.only_from > 0:
        update["only_from"] = moved(settings.only_from)
    if settings.only_to < 1:
        update["only_to"] = moved(settings.only_to)
    return settings.model_copy(update=update)


def _held(part: float) -> float:
    return min(1 - RIM, max(RIM, part))


def _within(name: str, value: float) -> float:
    return float(round(held(Tone, name, value), 4))
