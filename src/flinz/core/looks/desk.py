"""What a look may ask for besides the tone it draws from."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import TypeVar

from flinz.core.keeping import Holds, Keep, hold_nothing, keep_nothing
from flinz.core.marks.cells import plain_cell
from flinz.core.marks.vectors import Dots, Strokes
from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame, Lay

M = TypeVar("M", Dots, Strokes)


# A way to draw from a tone in a frame, at a desk.
Drawn = Callable[[Plane, Frame, "Desk"], Plane]


@dataclass(frozen=True)
class Desk:
    """keep remembers parts of the drawing. whole(px_per_mm) gives the tone of the whole sheet on a
    fixed grid and that grid's frame, whatever part is being drawn at whatever size: for marks
    that must stand in the same places, and for figures of the whole picture.
    """

    keep: Keep
    whole: Callable[[float], tuple[Plane, Frame]]
    # As keep, for what belongs to the whole sheet and serves any frame of it.
    keep_whole: Keep = keep_nothing
    # As that, for what no tone has any part in.
    keep_paper: Keep = keep_nothing
    # Whether something of the whole sheet is remembered now.
    holds_whole: Holds = hold_nothing
    # Raises Stopped where nobody waits for the drawing any more; for work that takes seconds.
    heed: Callable[[], None] = lambda: None
    # A draft may leave out what only settles the marks.
    draft: bool = False
    # Where the hand wants marks finer (to 1) or coarser (to -1), in a frame of the box; whether it
    # wants that anywhere.
    closer: Callable[[Frame], Plane | None] = lambda frame: None
    has_closer: bool = False
    # Where only a share of the ink is asked for: the tone as it is, which form follows.
    undivided: Callable[[float], tuple[Plane, Frame]] | None = None
    # The cell of a screen from the photo of an id, "" for the plate's own.
    cell: Callable[[str], Plane] = lambda photo: plain_cell()
    # How the box lies, where a look lays itself: the frame is then the paper's, not the box's.
    lay: Lay | None = None
    # What is drawn upright in the box, as it lies in that frame.
    relaid: Callable[[Drawn], Plane] | None = None

    def form(self, px_per_mm: float) -> tuple[Plane, Frame]:
        """As whole, of all the tone, whatever share of its ink is asked for."""
        return (self.undivided or self.whole)(px_per_mm)

    def laid(self, marks: M) -> M:
        """Marks of the box where they lie in the frame's own millimetres."""
        return marks if self.lay is None else marks.laid(self.lay)

    def upright(self, draw: Drawn, tone: Plane, frame: Frame) -> Plane:
        """What draw makes of the tone, in frame; of what cannot lay itself."""
        return draw(tone, frame, self) if self.relaid is None else self.relaid(draw)


def bare_desk(tone: Plane, frame: Frame) -> Desk:
    """A desk that remembers nothing and takes the given tone for the whole sheet's."""
    return Desk(keep_nothing, lambda px_per_mm: (tone, frame))
