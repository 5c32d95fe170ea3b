"""Which words of a plate may leave as text: those of which nothing but plain ink was made."""

import cv2
import numpy as np

from flinz.core.deliver.artwork import Text, TextWish
from flinz.core.ground.typesetting import missing
from flinz.core.planes.filters import Plane
from flinz.core.press.impressions import Impression
from flinz.core.scale import Frame
from flinz.core.shapes.filled import filled
from flinz.core.stages.ink import Colouring

# Ink may leave its letters' outlines by a pixel, and be so much fainter.
PIXEL, FAINTER = np.ones((3, 3), np.uint8), 0.1


def why_not(text: Text, wish: TextWish, impression: Impression, frame: Frame) -> str:
    """Why words are no text in a file; "" where they are. impression: of their plate, in a frame
    of the sheet.
    """
    letters = [each for line in text.words.lines for each in line.letters]
    if not letters:
        return "there are none"
    if unknown := missing(text.said.as_set, text.face):
        return f"the face has no {unknown[0]}"
    rings = [ring for each in letters for ring in each.rings(text.face)]
    is_single = impression.ink.colouring == Colouring.SINGLE
    if not is_single or not _are_alike(impression.share, filled(rings, frame)):
        return "they are not in plain ink"
    return wish.refuses(text)


def _are_alike(cover: Plane, letters: Plane) -> bool:
    most, least = cv2.dilate(letters, PIXEL) + FAINTER, cv2.erode(letters, PIXEL) - FAINTER
    return bool(((cover <= most) & (cover >= least)).all())
