"""What a look may ask for besides the tone it draws from."""

from collections.abc import Callable, Hashable
from dataclasses import dataclass, replace
from typing import TypeVar

from flinz.core.keeping import Holds, Keep, hold_nothing, keep_nothing
from flinz.core.marks.cells import plain_cell
from flinz.core.marks.vectors import Dots, Strokes
from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame, Lay

M = TypeVar("M", Dots, Strokes)


# A way to draw from a tone in a frame, at a desk.
Drawn = Callable[[Plane, Frame, "Desk"], Plane]


def no_form(px_per_mm: float) -> tuple[Plane, Frame]:
    """The form where there is none to follow."""
    raise LookupError("nothing has a form here")


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
    # As that, for what the tone alone decides, wherever the hand wants marks finer.
    keep_tone: Keep = keep_nothing
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
    # As whole, keep_whole and holds_whole, for the form that lines follow, and what is measured of
    # the whole picture: of all the tone, where only a share of its ink is asked for, without what
    # the hand did to it, and without a stroke that is still being made.
    form: Callable[[float], tuple[Plane, Frame]] = no_form
    keep_form: Keep = keep_nothing
    holds_form: Holds = hold_nothing
    # As whole, of no more than lies near what is drawn, for a draft of a part of the sheet.
    near: Callable[[float], tuple[Plane, Frame]] | None = None
    # The cell of a screen from the photo of an id, "" for the plate's own.
    cell: Callable[[str], Plane] = lambda photo: plain_cell()
    # How the box lies, where a look lays itself: the frame is then the paper's, not the box's.
    lay: Lay | None = None
    # What is drawn upright in the box, as it lies in that frame.
    relaid: Callable[[Drawn], Plane] | None = None

    def marks(
        self, name: str, parameters: Hashable, make: Callable[["Desk"], M], settles: bool = False
    ) -> M:
        """Marks of the whole sheet that make places at a desk, remembered. A draft of a part takes
        those near it alone, unless all stand already. settles: quick enough to settle there.
        """
        if self.near is not None and not self.holds_whole(name, parameters):
            return make(replace(self, whole=self.near, draft=not settles))
        found: M = self.keep_whole(name, parameters, lambda: make(self))
        return found

    def laid(self, marks: M) -> M:
        """Marks of the box where they lie in the frame's own millimetres."""
        return marks if self.lay is None else marks.laid(self.lay)

    def upright(self, draw: Drawn, tone: Plane, frame: Frame) -> Plane:
        """What draw makes of the tone, in frame; of what cannot lay itself."""
        return draw(tone, frame, self) if self.relaid is None else self.relaid(draw)


def bare_desk(tone: Plane, frame: Frame) -> Desk:
    """A desk that remembers nothing and takes the given tone for the whole sheet's."""
    return Desk(keep_nothing, lambda px_per_mm: (tone, frame), form=lambda px_per_mm: (tone, frame))
