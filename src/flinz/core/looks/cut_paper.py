"""Cut paper: two tones in bold smooth shapes, for shirts and logos."""

from typing import Literal

import numpy as np

from flinz.core.dial import Dial
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look, LookSettings, Suits
from flinz.core.looks.threshold import otsu_level
from flinz.core.planes.filters import Plane, blurred
from flinz.core.scale import Frame
from flinz.core.shapes import islands
from flinz.core.shapes.cutting import cut_at, flattened, flattened_reach_mm

SURVEY_PX_PER_MM = 2.0
# Of the finest shape: how broad a feature is, and what is around it (standard deviations).
FEATURES = 0.35, 2.5
FEATURES_GAIN, FEATURES_SUGGESTED = 1.6, 0.8
# What differs by less is a surface's own unevenness.
FAINT = np.float32(0.04)


class CutPaper(LookSettings):
    """Black shapes as if cut with scissors."""

    look: Literal["cut-paper"] = "cut-paper"
    ink_share: float = Dial(
        0.4,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Share of ink",
        hint="How much of the sheet is ink",
    )
    finest: float = Dial(
        0.9,
        ge=0.0,
        le=20.0,
        low=0.2,
        high=8.0,
        step=0.1,
        unit="mm",
        label="Finest shape",
        hint="Detail smaller than this is cut away",
    )
    crumbs: float = Dial(
        2.0,
        ge=0.0,
        le=200.0,
        high=40.0,
        step=0.5,
        unit="mm²",
        label="Crumbs",
        hint="Pieces and holes under this are dropped",
    )
    features: float = Dial(
        0.0,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Features",
        hint="Keeps eyes and mouths among bold shapes",
    )


def draw(tone: Plane, settings: CutPaper, frame: Frame, desk: Desk) -> Plane:
    """Ink in the darkest share of the flattened tone, as one level for the whole sheet, which is
    that of the photo: what the hand opens or closes is paper or ink besides.

    Features: what is small and differs from all around it is set off again after flattening, by a
    difference of Gaussians as wide as the finest shape.
    """
    with_ = settings.finest, settings.features
    flat = desk.keep("flat", with_, lambda: _flat(tone, frame, *with_))
    survey = desk.keep_form("survey", with_, lambda: _flat(*desk.form(SURVEY_PX_PER_MM), *with_))
    level = float(np.quantile(survey, settings.ink_share))
    if settings.ink_share in (0.0, 1.0):
        return np.full(tone.shape, settings.ink_share, np.float32)
    return cut_at(flat, level, frame, settings.crumbs)


def _flat(tone: Plane, frame: Frame, smoothing: float, features: float) -> Plane:
    flat = flattened(tone, frame, smoothing)
    if features == 0 or smoothing == 0:
        return flat
    shape, around = (blurred(tone, frame.px(share * smoothing)) for share in FEATURES)
    off = shape - around
    clear = off - np.clip(off, -FAINT, FAINT)
    return np.asarray(flat + np.float32(FEATURES_GAIN * features) * clear, np.float32)


def reach_mm(settings: CutPaper) -> float:
    """The flattening, the features, and pieces a few times as long as wide."""
    features = 3 * FEATURES[1] * settings.finest if settings.features else 0.0
    flat = max(flattened_reach_mm(settings.finest), features)
    return flat + 4 * float(np.sqrt(settings.crumbs))


def suggested(tone: Plane, frame: Frame) -> dict[str, float]:
    """The share of ink that parts the tone best into two, and features that read."""
    share = round(float(np.mean(tone < otsu_level(tone))), 2)
    return {"ink_share": share, "features": FEATURES_SUGGESTED}


LOOK = Look(
    settings=CutPaper,
    label="Cut paper",
    purpose="Two tones in bold smooth shapes that read from afar",
    draw=draw,
    reach_mm=reach_mm,
    two_tone=lambda settings: True,
    suggested=suggested,
    proof_factor=2,
    made_ready=islands.made_ready,
    fitted=("draw.ink_share", "draw.features"),
    suits=Suits(parted=(0.95, 1), fine=(0.2, 0.7), led=(0.5, 0.1), spread=(0.9, 0.5)),
    decides=True,
)
