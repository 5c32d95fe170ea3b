"""A screen whose cells are a picture: its darkest places turn black first."""

import math
from typing import Any

import cv2
import numpy as np
from numba import njit, prange

from flinz.core.marks.screens import SAMPLES, box_px_per_mm, drawn_share, sample_at
from flinz.core.planes.filters import Plane, averaged, blurred
from flinz.core.scale import Frame, Lay

# A cell is kept in so many places each way.
CELL = 128
# Places over which grain of the picture is evened out, and over which flat parts of it run.
SOFT, WIDE, WIDE_SHARE = 1.4, 16.0, 0.03


def cell_of(grey: Plane) -> Plane:
    """A cell from the middle of a picture: at what share of ink each place of it turns black.

    grey: (H, W) float32 0 black..1 white. Returns (CELL, CELL) float32 in 0..1; all shares come
    equally often, so that any tone keeps its ink.
    """
    side = min(grey.shape)
    top, left = (grey.shape[0] - side) // 2, (grey.shape[1] - side) // 2
    square = np.ascontiguousarray(grey[top : top + side, left : left + side])
    if side < CELL:
        larger = cv2.resize(square, (CELL, CELL), interpolation=cv2.INTER_LINEAR)
        square = np.asarray(larger, np.float32)
    soft = blurred(averaged(square, CELL, CELL), SOFT)
    # Where it is flat, what lies round it decides.
    order = np.argsort(soft + WIDE_SHARE * blurred(soft, WIDE), axis=None, kind="stable")
    cell = np.empty(CELL * CELL, np.float32)
    cell[order] = (np.arange(CELL * CELL, dtype=np.float32) + 0.5) / (CELL * CELL)
    return cell.reshape(CELL, CELL)


def plain_cell() -> Plane:
    """The cell where there is no picture: a leaf."""
    at = (np.arange(CELL, dtype=np.float32) + 0.5) / CELL * 2 - 1
    x, y = np.meshgrid(at, at)
    along, across = (x + y) / 2, (x - y) / 2
    leaf = np.abs(across) / np.maximum(0.05, 0.55 * np.cos(np.clip(along, -1, 1) * np.pi / 2))
    vein = 0.35 * np.exp(-((across / 0.04) ** 2)) * (np.abs(along) < 0.8)
    return cell_of(np.asarray(np.clip(0.6 * leaf + vein, 0, 2) / 2, np.float32))


def cells_cover(
    cover: Plane, frame: Frame, angle_deg: float, pitch_mm: float, cell: Plane, lay: Lay | None
) -> Plane:
    """Ink of a screen of cells, (H, W) float32, asked for at 16 places in each pixel.

    cover: (H, W) float32 ink wished in frame. pitch_mm: a cell's width. lay: how the box lies where
    the frame is the paper's. Where cells come to a pixel or two the wished tone itself takes over.
    """
    if lay is None:
        box = np.array([[1, 0, frame.left], [0, 1, frame.top]]) / np.reshape(frame.per_mm, (2, 1))
    else:
        box = lay.box_mm(frame)
    cosine, sine = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
    way = np.array([[cosine, -sine], [sine, cosine]]) @ box / pitch_mm
    share = drawn_share(pitch_mm * box_px_per_mm(frame, lay) / frame.finer)
    return np.asarray(_cells(cover, way, cell, share), np.float32)


@njit(parallel=True, fastmath=True, cache=True)
def _cells(cover, way, cell, share) -> Any:  # type: ignore[no-untyped-def]
    size = cell.shape[0]
    out = np.empty_like(cover)
    for row in prange(cover.shape[0]):
        for column in range(cover.shape[1]):
            wish = cover[row, column]
            inked = 0
            for j in range(SAMPLES):
                for i in range(SAMPLES):
                    x, y = column + 0.5 + sample_at(i, j), row + 0.5 + sample_at(j, i)
                    u = way[0, 0] * x + way[0, 1] * y + way[0, 2]
                    v = way[1, 0] * x + way[1, 1] * y + way[1, 2]
                    u, v = (u - np.floor(u)) * size - 0.5, (v - np.floor(v)) * size - 0.5
                    left, top = max(int(np.floor(u)), 0), max(int(np.floor(v)), 0)
                    right, low = min(left + 1, size - 1), min(top + 1, size - 1)
                    across, down = min(max(u - left, 0.0), 1.0), min(max(v - top, 0.0), 1.0)
                    above = cell[top, left] + across * (cell[top, right] - cell[top, left])
                    below = cell[low, left] + across * (cell[low, right] - cell[low, left])
                    inked += wish > above + down * (below - above)
            out[row, column] = share * inked / (SAMPLES * SAMPLES) + (1 - share) * wish
    return out
