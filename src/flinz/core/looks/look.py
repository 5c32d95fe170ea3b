"""What a look is: its dials, how it draws, and all that others must know about it."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from flinz.core.dial import Settings
from flinz.core.looks.desk import Desk
from flinz.core.marks.vectors import Dots, Strokes
from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame

Marks = Dots | Strokes

# Coarser, as it is, and finer by hand: how many times as long lengths then are.
LENGTHS_BY_HAND = ((-1, 2.0), (0, 1.0), (1, 0.5))


class LookSettings(Settings):
    """Base of a look's dials. A look adds `look: Literal["its-name"] = "its-name"`."""


@dataclass(frozen=True)
class Suits:
    """The photo a look is best at: what each of its figures should be, and how much it matters.

    Figures are those of flinz.core.judge.guess.PhotoFigures, all 0..1. Shapes want parted tones
    and little detail; lines want edges that lead; dots and screens carry soft tone.
    """

    parted: tuple[float, float] = (0.5, 1.0)
    fine: tuple[float, float] = (0.5, 1.0)
    led: tuple[float, float] = (0.5, 1.0)
    spread: tuple[float, float] = (0.5, 1.0)


def _nothing() -> None:
    """Nothing is to be made ready."""


@dataclass(frozen=True)
class Look:
    """One drawing method, and everything that is said of it anywhere.

    draw(tone, settings, frame, desk) takes tone (H, W) float32 0 black..1 white and returns ink
    (H, W) float32 0..1. It must depend only on its arguments, on tone within reach_mm of a
    pixel, and on the place on the paper.
    """

    settings: type[LookSettings]
    label: str
    purpose: str
    draw: Callable[[Plane, Any, Frame, Desk], Plane]
    reach_mm: Callable[[Any], float]
    two_tone: Callable[[Any], bool] = lambda settings: False
    # Dials, as "stage.name", that a plain recipe sets to the value suggested for the photo.
    fitted: tuple[str, ...] = ()
    # Values that suit the tone of a whole sheet, by dial name.
    suggested: Callable[[Plane, Frame], dict[str, float]] = lambda tone, frame: {}
    # Values at which the whites of eyes stay open, given the tone within each watched eye.
    suggested_by_eyes: Callable[[list[Plane]], dict[str, float]] | None = None
    # The photos it is best at.
    suits: Suits = Suits()
    # How many times finer a proof is drawn before it is shrunk; 2 where black or white is
    # decided by the photo's own detail or by marks.
    proof_factor: int = 1
    # Whether the photo's own detail decides black or white: the smallest change of size then
    # turns single pixels, and two sizes are compared less strictly.
    decides: bool = False
    # The marks of the whole sheet as vectors, and about how many they will be where that can be
    # told without placing them.
    marks: Callable[[Any, Desk], Marks] | None = None
    predicted: Callable[[Any, Desk], int] | None = None
    # Whether they are remembered, so that to draw them places none.
    are_placed: Callable[[Any, Desk], bool] = lambda settings, desk: False
    # Whether its marks are all that it draws; and another look's dials for what it draws beside.
    is_marks_alone: Callable[[Any], bool] = lambda settings: True
    beside: Callable[[Any], LookSettings | None] = lambda settings: None
    # The dial, in mm, that decides how many there are; "" where they are not asked for by number.
    sized_by: str = ""
    # Whether draw places them, so that to count them costs nothing.
    draws_marks: bool = False
    # Whether draw may be asked for how the box lies (desk.lay): marks are laid as vectors and
    # screens stand in their own place. The frame is then the paper's and the tone as it lies there;
    # what draws marks shall read none of it but from desk.whole. Others are drawn upright and
    # resampled.
    lays_itself: bool = False
    # Distance of its marks, mm, where it carries tone by marks, and how far the tone of a ramp,
    # over one and a half of that, may be from the wished one; None where it carries no even tone.
    pitch: Callable[[Any], float] | None = None
    tone_error: float | None = 0.02
    # Whether it draws finer and coarser where the desk tells that the hand wants that. Others are
    # drawn at half and twice their lengths, and mixed.
    sizes_itself: bool = False
    # Width of the thinnest mark that matters to it, mm; None where it sets down none.
    thinnest: Callable[[Any], float] | None = None
    # What a full run at 1,400 px may take, in Gaussian blurs of the same picture.
    gaussians: float = 25
    # Settings, beside those it starts with, that come to kernels of their own: drawn once at
    # set-up, so that nothing is compiled in front of anyone.
    rehearsed: tuple[LookSettings, ...] = ()
    # What else is made once at every start: kernels that a tiny picture does not come to, tiles.
    made_ready: Callable[[], None] = _nothing

    @property
    def name(self) -> str:
        """The name written in documents."""
        return str(self.settings.model_fields["look"].default)

    def reads_no_frame(self, settings: LookSettings) -> bool:
        """Whether draw reads nothing of the tone in its frame, but from desk.whole alone."""
        return self.draws_marks and self.lays_itself and self.beside(settings) is None
