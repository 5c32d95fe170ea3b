"""Cut paper: two tones in bold smooth shapes, for shirts and logos."""

from typing import Literal

import numpy as np

from flinz.core.dial import Dial
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look, LookSettings, Suits
from flinz.core.looks.threshold import otsu_level
from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame
from flinz.core.shapes.cutting import cut_at, flattened, flattened_reach_mm

SURVEY_PX_PER_MM = 2.0


class CutPaper(LookSettings):
    """Black shapes as if cut with scissors."""

    look: Literal["cut-paper"] = "cut-paper"
    balance: float = Dial(
        0.4,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Balance",
        hint="Share of the sheet that is ink",
    )
    smoothing: float = Dial(
        0.9,
        ge=0.0,
        le=20.0,
        low=0.2,
        high=8.0,
        step=0.1,
        unit="mm",
        label="Smoothing",
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


def draw(tone: Plane, settings: CutPaper, frame: Frame, desk: Desk) -> Plane:
    """Ink in the darkest share of the flattened tone, as one level for the whole sheet."""
    smoothing = settings.smoothing
    flat = desk.keep("flat", smoothing, lambda: flattened(tone, frame, smoothing))
    survey = desk.keep("survey", smoothing, lambda: _survey(desk, smoothing))
    level = float(np.quantile(survey, settings.balance))
    if settings.balance in (0.0, 1.0):
        return np.full(tone.shape, settings.balance, np.float32)
    return cut_at(flat, level, frame, settings.crumbs)


def _survey(desk: Desk, smoothing: float) -> Plane:
    whole, grid = desk.whole(SURVEY_PX_PER_MM)
    return flattened(whole, grid, smoothing)


def reach_mm(settings: CutPaper) -> float:
    """The flattening, and pieces a few times as long as wide."""
    return flattened_reach_mm(settings.smoothing) + 4 * float(np.sqrt(settings.crumbs))


def suggested(tone: Plane) -> dict[str, float]:
    """The share of ink that parts the tone best into two."""
    return {"balance": round(float(np.mean(tone < otsu_level(tone))), 2)}


LOOK = Look(
    settings=CutPaper,
    label="Cut paper",
    purpose="Two tones in bold smooth shapes that read from afar",
    draw=draw,
    reach_mm=reach_mm,
    two_tone=lambda settings: True,
    suggested=suggested,
    proof_factor=2,
    fitted=("draw.balance",),
    suits=Suits(parted=(0.95, 1), fine=(0.2, 0.7), led=(0.5, 0.1), spread=(0.9, 0.5)),
    decides=True,
)
