"""The part of a photo that a plate draws: all of it, the subject, or what lies behind."""

from enum import StrEnum

import numpy as np

from flinz.core.dial import Choice, Dial, Settings, Switch
from flinz.core.planes.filters import Plane


class Shows(StrEnum):
    """Which part is drawn."""

    WHOLE = "whole"
    SUBJECT = "subject"
    BACKDROP = "backdrop"


class Outside(StrEnum):
    """What the look sees where nothing is to be drawn."""

    PHOTO = "photo"
    GROUND = "ground"


class Part(Settings):
    """What of the photo a plate is drawn from."""

    part: Shows = Choice(
        Shows.WHOLE,
        label="Draws",
        hint="Which part of the photo, by its cutout",
        options={
            Shows.WHOLE: ("The whole photo", "Nothing is cut away"),
            Shows.SUBJECT: ("The subject", "Bare paper behind it"),
            Shows.BACKDROP: ("The backdrop", "Bare paper where the subject is"),
        },
    )
    outside: Outside = Choice(
        Outside.PHOTO,
        label="Beside it",
        hint="What the look sees where nothing is to be drawn",
        only_for={"part": ["subject", "backdrop"]},
        options={
            Outside.PHOTO: ("The photo", "Drawn as it is and cut afterwards: the cut is no line"),
            Outside.GROUND: ("A plain tone", "Laid there before drawing: edges answer to it"),
        },
    )
    ground: float = Dial(
        1.0,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Plain tone",
        hint="From black to white",
        only_for={"outside": ["ground"], "part": ["subject", "backdrop"]},
    )
    contour: float = Dial(
        0.0,
        ge=0.0,
        le=10.0,
        high=3.0,
        step=0.05,
        unit="mm",
        label="Draw the edge",
        hint="Nib of a line along the cutout's edge",
    )
    covers: bool = Switch(
        False,
        label="Covers",
        hint="Bare paper first: a figure stands in front",
    )

    @property
    def is_cut(self) -> bool:
        """Whether ink is cut after drawing."""
        return self.part != Shows.WHOLE and self.outside == Outside.PHOTO

    @property
    def is_grounded(self) -> bool:
        """Whether a plain tone is laid before drawing."""
        return self.part != Shows.WHOLE and self.outside == Outside.GROUND

    @property
    def needs_cutout(self) -> bool:
        """Whether the cutout matters to what is drawn."""
        return self.part != Shows.WHOLE or self.contour > 0


def grounded(tone: Plane, share: Plane, ground: float) -> Plane:
    """Tone with a plain one where the share 0..1 of the part is not. All (H, W) float32."""
    return np.asarray(ground + share * (tone - np.float32(ground)), np.float32)
