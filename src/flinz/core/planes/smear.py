"""Smear: tone or ink dragged along a straight way."""

import math

import cv2
import numpy as np

from flinz.core.planes.filters import Plane

# Samples lie this close, so that nothing is skipped.
STEP_PX = 1.0
MOST_DOUBLINGS = 12


def smeared(plane: Plane, length_px: float, angle_deg: float, both_ways: bool) -> Plane:
    """Mean of a plane over a straight stretch at each pixel, (H, W) float32.

    length_px: of the stretch; angle_deg: counter-clockwise from the x axis. both_ways: the
    stretch is centred, else what is there is dragged towards the angle. Each round averages the
    plane with itself moved by half of what is left, so that n samples cost log2(n) rounds.
    """
    if length_px < 0.05:
        return plane
    rounds = min(MOST_DOUBLINGS, max(1, math.ceil(math.log2(length_px / STEP_PX + 1))))
    along_x, along_y = math.cos(math.radians(angle_deg)), -math.sin(math.radians(angle_deg))
    out: Plane = plane
    # Samples 0..n-1 of spacing length / n reach one spacing short of the length.
    spacing = length_px / 2**rounds
    for k in range(rounds):
        way = spacing * 2**k
        dragged = moved(out, way * along_x, way * along_y)
        out = np.asarray(cv2.addWeighted(out, 0.5, dragged, 0.5, 0), np.float32)
    if both_ways:
        back = -(length_px - spacing) / 2
        out = moved(out, back * along_x, back * along_y)
    return np.asarray(out, np.float32)


def moved(
    plane: Plane,
    x_px: float,
    y_px: float,
    turn_deg: float = 0.0,
    centre: tuple[float, float] = (0.0, 0.0),
    goes_on: bool = True,
) -> Plane:
    """A plane, or (H, W, 3), moved right and down, and turned counter-clockwise about a centre.

    goes_on: whether what lies at an edge goes on beyond it; else there is nothing (0).
    """
    if (x_px, y_px, turn_deg) == (0.0, 0.0, 0.0):
        return plane
    # Pixels' middles lie at halves of the frame, and at whole numbers for OpenCV.
    way = cv2.getRotationMatrix2D((centre[0] - 0.5, centre[1] - 0.5), turn_deg, 1.0)
    way[:, 2] += np.array([x_px, y_px])
    height, width = plane.shape[:2]
    border = cv2.BORDER_REPLICATE if goes_on else cv2.BORDER_CONSTANT
    landed = cv2.warpAffine(plane, way, (width, height), flags=cv2.INTER_LINEAR, borderMode=border)
    return np.asarray(landed, np.float32)
