"""Opens what is lost at a spot: lightens or darkens just there, as strongly as halves the loss."""

from dataclasses import dataclass, replace
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.document.sheet import Sheet
from flinz.core.hand.pieces import id_of
from flinz.core.hand.strokes import MAX_POINTS, Brush, Stroke
from flinz.core.judge.lost import LARGEST_EDGE_PX, LOST_PX_PER_MM, lost_detail
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import whole_at
from flinz.core.press.painting import on_photo
from flinz.core.press.press import Press
from flinz.core.press.proofing import Subject
from flinz.core.press.stopping import Stop, never
from flinz.core.shapes.outlines import outline
from flinz.errors import DocumentError

# What is lost at a place is what hangs together round it, no farther off than this.
NEAR_MM, LEAST_LOST = 12.0, 0.1
# The opened area goes so far beyond what is lost, and falls off so softly.
BEYOND_MM, SOFT_MM = 1.5, 1.2
# Strengths that are tried, from the weakest: one stroke is two stops, two are four.
STRENGTHS = (0.15, 0.3, 0.45, 0.6, 0.8, 1.0, 1.3, 1.6, 2.0)
HALF = 0.5
TRIAL_BYTES = 120_000_000


@dataclass(frozen=True)
class Opening:
    """strokes: what opens it. before, after: what was and is lost there, of all there is to lose
    there, 0..1.
    """

    strokes: list[Stroke]
    verb: Literal["lighten", "darken"]
    stops: float
    before: float
    after: float


def opened(
    press: Press,
    photo: Photo,
    sheet: Sheet,
    stop: Stop = never,
    *,
    plate_id: str,
    at: tuple[float, float],
) -> Opening:
    """What opens the detail that a plate's tone lost round a spot of the sheet (shares 0..1).

    Raises DocumentError where nothing is lost there, or nothing that Tone can open. Raises Stopped.
    """
    plate = sheet.plate(plate_id)
    frame = whole_at(sheet, photo, LOST_PX_PER_MM, LARGEST_EDGE_PX)
    lost = lost_detail(press, photo, sheet, stop).lost
    area = _area(lost, at, frame.px(NEAR_MM), frame.px(BEYOND_MM))
    places = outline(area, MAX_POINTS) / lost.shape[::-1]
    shares = np.column_stack([places, np.ones(len(places))])
    points, size = on_photo(press.placed(photo, sheet, plate), shares, SOFT_MM)
    seen = press.proof(photo, sheet, frame, Subject("stage", plate_id, "draw"), stop=stop)
    verb: Literal["lighten", "darken"] = "lighten" if seen[area].mean() < HALF else "darken"
    before = float(lost[area].sum())
    stock = press.results.stock
    earlier = stock.strokes_of(plate.hand["tone"]) if "tone" in plate.hand else []
    # One for all trials: what they share is worked out once.
    trials: dict[str, list[Stroke]] = {}
    trial = Press(
        TRIAL_BYTES,
        stock=replace(
            stock,
            strokes_of=lambda name: trials[name] if name in trials else stock.strokes_of(name),
        ),
    )

    def strokes(strength: float) -> list[Stroke]:
        parts = [min(1.0, strength), strength - 1.0]
        return [
            Stroke(Brush(verb=verb, by="area", size=size, hardness=0.0, strength=part), points)
            for part in parts
            if part > 0
        ]

    best, least = strokes(STRENGTHS[0]), before
    for strength in STRENGTHS:
        tried = strokes(strength)
        name = id_of(f"trial at {strength:g}".encode())
        trials[name] = [*earlier, *tried]
        changed = sheet.with_plate(plate.with_hand("tone", name))
        left = float(lost_detail(trial, photo, changed, stop).lost[area].sum())
        if left < least:
            best, least = tried, left
        if left <= HALF * before:
            break
    if least >= 0.95 * before:
        raise DocumentError(
            "Tone cannot open what is lost there: the drawing stays bare or solid. Turn the dials "
            "of Draw, or draw that area otherwise."
        )
    stops = 2 * sum(each.brush.strength for each in best)
    there = max(float(area.sum()), 1.0)
    return Opening(best, verb, round(stops, 2), round(before / there, 4), round(least / there, 4))


def _area(
    lost: NDArray[np.float32], at: tuple[float, float], near_px: float, beyond_px: float
) -> NDArray[np.bool_]:
    """What is lost round a spot, in one piece."""
    height, width = lost.shape
    column, row = at[0] * width, at[1] * height
    rows, columns = np.ogrid[0:height, 0:width]
    close = np.hypot(columns + 0.5 - column, rows + 0.5 - row) <= near_px
    there = ((lost > LEAST_LOST) & close).astype(np.uint8)
    if not there.any():
        raise DocumentError("Nothing is lost there.")
    side = 2 * max(1, round(beyond_px)) + 1
    grown = cv2.dilate(there, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side)))
    _, labels = cv2.connectedComponents(grown)
    # The piece that has most of the loss.
    amounts = np.bincount(labels.ravel(), (lost * there).ravel())
    amounts[0] = 0
    return np.asarray(labels == amounts.argmax(), np.bool_)
