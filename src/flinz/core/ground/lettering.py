"""Lettering: words, the face that they are set in, and how."""

from enum import StrEnum
from typing import Any

from pydantic import Field

from flinz.core.dial import Choice, Dial, Switch
from flinz.core.ground.faces import WORDS, Face
from flinz.core.ground.figure import FADED, Toned

MAX_WORDS = 2000


class Measure(StrEnum):
    """What a size of type means."""

    CAPITALS = "capitals"
    POINTS = "points"


class Align(StrEnum):
    """Where lines begin."""

    LEFT = "left"
    CENTRE = "centre"
    RIGHT = "right"


class Case(StrEnum):
    """What is done to letters as typed."""

    TYPED = "typed"
    CAPITALS = "capitals"
    SMALL = "small"


class Over(StrEnum):
    """What fades as one."""

    ALL = "all"
    LINE = "line"
    LETTER = "letter"


def _mm(default: float, high: float, *, label: str, hint: str, **other: Any) -> Any:
    more: dict[str, Any] = {"ge": 0.0, "le": 200.0, "step": 0.05, "unit": "mm"} | other
    return Dial(default, high=high, label=label, hint=hint, **more)


class Lettering(Toned):
    """Words and how they are set. own: the id of a font that was brought; "" for none."""

    words: str = Field("Words", max_length=MAX_WORDS)
    own: str = Field("", pattern=r"^([0-9a-f]{64})?$")
    face: Face = Choice(Face.GROTESQUE_BOLD, label="Face", hint="How letters look", options=WORDS)
    measure: Measure = Choice(
        Measure.CAPITALS,
        label="Size by",
        hint="What is measured",
        options={
            Measure.CAPITALS: ("Capitals", "Their height, in mm"),
            Measure.POINTS: ("Points", "The body of the type"),
        },
    )
    size: float = _mm(
        12.0,
        80.0,
        ge=0.5,
        le=1000.0,
        step=0.1,
        low=2.0,
        label="Size",
        hint="Height of capitals",
        only_for={"measure": ["capitals"]},
    )
    points: float = Dial(
        48.0,
        ge=2.0,
        le=4000.0,
        low=6.0,
        high=300.0,
        step=1.0,
        unit="pt",
        label="Size",
        hint="Of the body; 72 points are an inch",
        only_for={"measure": ["points"]},
    )
    tracking: float = Dial(
        0.0,
        ge=-0.3,
        le=3.0,
        low=-0.1,
        high=0.6,
        step=0.005,
        unit="em",
        label="Tracking",
        hint="Added between letters",
        group="Spacing",
    )
    word_space: float = Dial(
        1.0,
        ge=0.0,
        le=10.0,
        low=0.4,
        high=3.0,
        step=0.05,
        unit="×",
        label="Between words",
        hint="Times what the face has",
        group="Spacing",
    )
    line: float = Dial(
        1.2,
        ge=0.2,
        le=6.0,
        low=0.7,
        high=2.5,
        step=0.02,
        unit="em",
        label="Line to line",
        hint="From one to the next",
        group="Spacing",
    )
    wrap: float = _mm(
        0.0,
        300.0,
        le=4000.0,
        step=1.0,
        label="Wrap at",
        hint="Lines no longer than this; 0 as typed",
        group="Spacing",
    )
    align: Align = Choice(
        Align.CENTRE,
        label="Lines",
        hint="Where they begin",
        options={
            Align.LEFT: ("From the left", "Ragged on the right"),
            Align.CENTRE: ("In the middle", "Ragged on both sides"),
            Align.RIGHT: ("To the right", "Ragged on the left"),
        },
    )
    arc: float = Dial(
        0.0,
        ge=-340.0,
        le=340.0,
        low=-180.0,
        high=180.0,
        step=1.0,
        unit="°",
        label="Arc",
        hint="Of the longest line: upwards, or below 0 down",
        group="Spacing",
    )
    on_line: bool = Switch(
        False,
        label="On a drawn line",
        hint="Follows what the hand drew on the sheet",
        group="Spacing",
    )
    case: Case = Choice(
        Case.TYPED,
        label="Case",
        hint="Of the letters",
        options={
            Case.TYPED: ("As typed", "Nothing is changed"),
            Case.CAPITALS: ("Capitals", "All of them"),
            Case.SMALL: ("Small", "No capitals"),
        },
    )
    filled: bool = Switch(True, label="Filled", hint="Off leaves their outline", group="Weight")
    heavier: float = _mm(
        0.0,
        2.0,
        ge=-20.0,
        low=-2.0,
        label="Heavier",
        hint="Letters grow; below 0 thinner",
        group="Weight",
    )
    outline: float = _mm(0.0, 5.0, label="Outline", hint="A line round each letter", group="Weight")
    apart: float = _mm(
        0.0, 5.0, label="Outline apart", hint="Paper between letter and line", group="Weight"
    )
    inline: float = _mm(
        0.0, 3.0, label="Inline", hint="A line of paper within each letter", group="Weight"
    )
    over: Over = Choice(
        Over.ALL,
        label="Fades across",
        hint="What fades as one",
        only_for=FADED,
        options={
            Over.ALL: ("All of it", "From its first letter to its last"),
            Over.LINE: ("Each line", "Each anew"),
            Over.LETTER: ("Each letter", "Each anew"),
        },
    )

    @property
    def as_set(self) -> str:
        """The words in their case, line ends as one character."""
        words = self.words.replace("\r\n", "\n").replace("\r", "\n").replace("\t", " ")
        if self.case == Case.TYPED:
            return words
        return words.upper() if self.case == Case.CAPITALS else words.lower()
