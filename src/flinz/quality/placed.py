"""Placed drawings: each look moved, turned, mirrored and resized on its paper."""

from dataclasses import dataclass

import numpy as np
from skimage.metrics import structural_similarity
from skimage.transform import AffineTransform, warp

from flinz.core.document import builtin
from flinz.core.document.picture import Picture, Position
from flinz.core.document.sheet import Sheet
from flinz.core.planes.filters import Plane, averaged
from flinz.core.planes.photo import Photo
from flinz.core.press import fitting
from flinz.core.press.framing import laid_box, whole
from flinz.core.press.press import Press
from flinz.core.stages.paper import AsPicture, OwnSize

# The paper is larger than the picture that lies on it: nothing is cut off.
WIDTH_MM, HEIGHT_MM, BOX_MM = 260.0, 200.0, 200.0
EDGE_PX, FINER = 910, 4

POSITIONS = {
    "moved by 10.3 mm": Position(x=WIDTH_MM / 2 + 10.3, y=HEIGHT_MM / 2 + 10.3, width=BOX_MM),
    "turned by 7°": Position(width=BOX_MM, turn=7.0),
    "half size": Position(width=BOX_MM / 2),
    "larger, as drawn": Position(width=BOX_MM * 0.9, as_drawn=1.5),
    "mirrored": Position(width=BOX_MM, mirrored=True),
}


@dataclass(frozen=True, eq=False)
class Placed:
    """A look's drawing of a photo in a position, and the same drawing made upright."""

    photo: Photo
    sheet: Sheet
    upright: Sheet

    def proof(self, edge: int = EDGE_PX, exact: bool = False) -> Plane:
        """The placed drawing, (H, W) float32."""
        return Press().proof(
            self.photo, self.sheet, whole(self.sheet, self.photo, edge), exact=exact
        )

    def transformed(self) -> Plane:
        """The upright one, drawn large, laid by scikit-image and shrunk to the proof's size."""
        paper = whole(self.sheet, self.photo, EDGE_PX * FINER)
        laid = laid_box(self.sheet, self.photo)
        box = laid.box.whole_at(paper.px_per_mm * laid.lay.scale)
        drawn = Press().proof(self.photo, self.upright, box, exact=True)
        back = np.eye(3)
        back[:2] = laid.lay.box_mm(paper) * box.px_per_mm
        # For scikit-image a pixel's middle has whole numbers.
        middle = AffineTransform(translation=(0.5, 0.5)).params  # type: ignore[no-untyped-call]
        way = AffineTransform(np.linalg.inv(middle) @ back @ middle)  # type: ignore[no-untyped-call]
        size = paper.height, paper.width
        large = warp(drawn, way, output_shape=size, order=1, cval=1.0)  # type: ignore[no-untyped-call]
        small = whole(self.sheet, self.photo, EDGE_PX)
        return averaged(np.asarray(large, np.float32), small.width, small.height)

    def likeness(self, one: Plane, other: Plane) -> float:
        """Structural similarity of two placed drawings in the box: bare paper is always alike."""
        _, alike = structural_similarity(one, other, data_range=1.0, full=True)  # type: ignore[no-untyped-call]
        paper = whole(self.sheet, self.photo, EDGE_PX)
        lay = laid_box(self.sheet, self.photo).lay
        to_box = lay.box_mm(paper)
        x, y = np.meshgrid(np.arange(paper.width) + 0.5, np.arange(paper.height) + 0.5)
        across, down = (row[0] * x + row[1] * y + row[2] for row in to_box)
        within = (across > 1) & (across < lay.width - 1) & (down > 1) & (down < lay.height - 1)
        return float(alike[within].mean())

    def on(self, photo: Photo) -> "Placed":
        """The same with another photo."""
        return Placed(photo, self.sheet, self.upright)


def figures(photo: Photo, half: Photo, look: str, position: Position) -> dict[str, float]:
    """Likeness of a placed proof with the upright drawing transformed, with its own export shrunk,
    and with the proof of a photo of half the size.
    """
    lain = placed(photo, look, position)
    proof = lain.proof()
    export = averaged(lain.proof(FINER * EDGE_PX, exact=True), proof.shape[1], proof.shape[0])
    return {
        "upright, transformed": lain.likeness(lain.transformed(), proof),
        "proof = export": lain.likeness(export, proof),
        "scale-free": lain.likeness(lain.on(half).proof(), proof),
    }


def placed(photo: Photo, look: str, position: Position) -> Placed:
    """A plain drawing of a photo by a look, in a position on a paper of its own."""
    plain = fitting.fitted(Press(), photo, builtin.named(look).on(photo.key, look))
    picture = Picture(photo=photo.key, position=position)
    paper = OwnSize(width=WIDTH_MM, height=HEIGHT_MM)
    sheet = plain.model_copy(update={"paper": paper, "picture": picture})
    long_edge = laid_box(sheet, photo).box.long_edge
    # Suggested for the photo: the same in any size.
    upright = plain.model_copy(update={"paper": AsPicture(long_edge=long_edge)})
    return Placed(photo, sheet, upright)
