"""What a look is: its dials, how it draws, and what the press must know about it."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from flinz.core.dial import Settings
from flinz.core.filters import Plane
from flinz.core.looks.desk import Desk
from flinz.core.marks import Dots, Strokes
from flinz.core.scale import Frame

Marks = Dots | Strokes


class LookSettings(Settings):
    """Base of a look's dials. A look adds `look: Literal["its-name"] = "its-name"`."""


@dataclass(frozen=True)
class Look:
    """One drawing method.

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
    # Values that suit a tone plane, by dial name.
    suggested: Callable[[Plane], dict[str, float]] = lambda tone: {}
    # Values at which the whites of eyes stay open, given the tone within each watched eye.
    suggested_by_eyes: Callable[[list[Plane]], dict[str, float]] | None = None
    # How many times finer a proof is drawn before it is shrunk; 2 where black or white is
    # decided by the photo's own detail.
    proof_factor: int = 1
    # The marks of the whole sheet as vectors, and about how many they will be.
    marks: Callable[[Any, Desk], Marks] | None = None
    predicted: Callable[[Any, Desk], int] | None = None
    # Whether draw places them, so that to count them costs nothing.
    draws_marks: bool = False

    @property
    def name(self) -> str:
        """The name written in documents."""
        return str(self.settings.model_fields["look"].default)
