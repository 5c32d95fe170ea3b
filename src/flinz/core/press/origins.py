"""What a plate is drawn from where that is not the sheet's picture."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Protocol

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.document.picture import Picture, Position
from flinz.core.ground.figure import Figure, Toned, faded
from flinz.core.planes.filters import Plane
from flinz.core.press.framing import LaidBox, laid_made
from flinz.core.scale import Frame
from flinz.core.stages.grey import luminance_grey

# Bare paper round a figure in its box, mm: looks answer to edges, and some reach beyond them.
ROOM_MM = 10.0


class Made(Protocol):
    """What is drawn from where that is no photo, in any frame of its box.

    key: tells it from all else, a draft too where that is another. room: bare paper round it in its
    box, mm.
    """

    @property
    def key(self) -> str: ...  # noqa: D102

    @property
    def room(self) -> float: ...  # noqa: D102

    def laid(self, paper_mm: tuple[float, float]) -> LaidBox:
        """Its box, and how that lies on paper of that size."""
        ...

    def tone(self, frame: Frame) -> Plane:
        """Tone 0..1, (H, W) float32."""
        ...

    def rgb(self, frame: Frame) -> NDArray[np.float32]:
        """Colours 0..1, (H, W, 3) float32."""
        ...

    def share(self, frame: Frame) -> Plane:
        """The share 0..1 of each pixel that lies within it, (H, W) float32."""
        ...


@dataclass(frozen=True)
class Origin:
    """What plates are drawn from, and the size of the sheet's paper, mm."""

    picture: Picture
    paper_mm: tuple[float, float]
    made: Made | None = None


@dataclass(frozen=True, eq=False)
class FromFigure:
    """A figure, which has its room round it already. at: where it lies, if that is not by its own
    position.
    """

    key: str
    figure: Figure
    toned: Toned
    position: Position
    room: float
    at: LaidBox | None = None

    def laid(self, paper_mm: tuple[float, float]) -> LaidBox:
        """Its box, by its middle."""
        if self.at is not None:
            return self.at
        return laid_made((self.figure.width, self.figure.height), self.position, paper_mm)

    def tone(self, frame: Frame) -> Plane:
        """Its tone, (H, W) float32."""
        return self.figure.toned(frame, self.toned)

    def rgb(self, frame: Frame) -> NDArray[np.float32]:
        """Its tone as colours."""
        return _as_colours(self.tone(frame))

    def share(self, frame: Frame) -> Plane:
        """What lies within its outlines."""
        return self.figure.share(frame)


@dataclass(frozen=True, eq=False)
class FromSpread:
    """What lies within so many mm of the subject of a picture. alpha: of that, in its box."""

    key: str
    box: LaidBox
    alpha: Callable[[Frame], Plane]
    reach: float
    toned: Toned
    room: float = 0.0

    def laid(self, paper_mm: tuple[float, float]) -> LaidBox:
        """As the picture lies."""
        return self.box

    def share(self, frame: Frame) -> Plane:
        """How much of each pixel is near enough."""
        reach_px = frame.px(self.reach)
        outer = frame.widened(math.ceil(reach_px) + 2)
        alpha = self.alpha(outer)
        if reach_px > 0:
            away = cv2.distanceTransform(
                (alpha < 0.5).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE
            )
            alpha = np.maximum(alpha, np.clip(np.float32(reach_px + 1) - away, 0, 1))
        return np.ascontiguousarray(alpha[frame.slices_in(outer)], np.float32)

    def tone(self, frame: Frame) -> Plane:
        """Its tone, white beside it; it fades across the whole box."""
        box = self.box.box
        corners = np.array([[0.0, 0.0], [box.width, box.height]])
        ink = 1 - faded(frame, corners, self.toned)
        return np.asarray(1 - self.share(frame) * ink, np.float32)

    def rgb(self, frame: Frame) -> NDArray[np.float32]:
        """Its tone as colours."""
        return _as_colours(self.tone(frame))


@dataclass(frozen=True, eq=False)
class FromPrint:
    """What is printed already, or another sheet: printed draws it in a frame of its box."""

    key: str
    size: tuple[float, float]
    printed: Callable[[Frame], NDArray[np.float32]]
    position: Position = field(default_factory=Position)
    room: float = 0.0

    def laid(self, paper_mm: tuple[float, float]) -> LaidBox:
        """Where it was printed, or as its position says."""
        return laid_made(self.size, self.position, paper_mm)

    def tone(self, frame: Frame) -> Plane:
        """Its luminance."""
        found = self.printed(frame)
        return found if found.ndim == 2 else luminance_grey(found)

    def rgb(self, frame: Frame) -> NDArray[np.float32]:
        """Its colours."""
        found = self.printed(frame)
        return _as_colours(found) if found.ndim == 2 else found

    def share(self, frame: Frame) -> Plane:
        """All of it."""
        return np.ones((frame.height, frame.width), np.float32)


def _as_colours(tone: Plane) -> NDArray[np.float32]:
    return np.repeat(tone[..., None], 3, 2)
