"""The steps of the run in words, and which settings each may have: what a page is made from."""

from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel

from flinz.core.dial import DialSpec, OptionSpec, Settings, dials_of
from flinz.core.document.picture import Crop
from flinz.core.ground.block import Block
from flinz.core.ground.lettering import Lettering
from flinz.core.ground.lines import Lines
from flinz.core.ground.wear import Wear
from flinz.core.hand.cutout import Cutout
from flinz.core.hand.strokes import VERB_WORDS, VERBS
from flinz.core.looks.registry import LOOKS
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import SIZE_LABELS, SIZES
from flinz.core.stages.part import Part
from flinz.core.stages.smooth import KINDS, LABELS
from flinz.core.stages.tone import Tone

StepName = Literal["photo", "tone", "smooth", "again", "draw", "clean", "ink", "paper"]


class PhotoStep(Crop, Cutout, Part):
    """What of the photo is drawn: a plate's part, and the cutout and crop that plates share."""


class Nothing(Settings):
    """No dials."""


class Covering(Settings):
    """Of a plate's part, what is said of one that is drawn from no photo."""

    covers: bool = Part.model_fields["covers"]  # type: ignore[assignment]


@dataclass(frozen=True)
class Kind:
    """One kind of a step's settings (a look, a way to smooth), in words."""

    settings: type[BaseModel]
    label: str
    purpose: str
    answers_to_eyes: bool = False
    # The dial that decides how many marks there are, if they can be asked for by number.
    sized_by: str = ""
    # Further settings that stand beside them.
    beside: tuple[type[BaseModel], ...] = ()
    # What its hand work belongs to, where that is not the step; "" for none of its own.
    hand: str = ""

    @property
    def dials(self) -> list[DialSpec]:
        """All of its dials."""
        return [dial for model in (self.settings, *self.beside) for dial in dials_of(model)]


@dataclass(frozen=True)
class Step:
    """A step of the run. kinds: by name; a step without a choice has one, named ""."""

    title: str
    hint: str
    kinds: dict[str, Kind]

    def verbs(self, name: str) -> list[OptionSpec]:
        """What the hand can do at the step of that name, in words."""
        found = VERBS.get(name, ())
        return [
            OptionSpec(name=verb, label=VERB_WORDS[verb][0], hint=VERB_WORDS[verb][1])
            for verb in found
        ]


def steps() -> dict[StepName, Step]:
    """Every step in its order: the photo, the five stages of a plate, the paper."""
    looks = {
        name: Kind(
            look.settings,
            look.label,
            look.purpose,
            look.suggested_by_eyes is not None,
            look.sized_by,
        )
        for name, look in LOOKS.items()
    }
    smoothings = {name: _kind(settings, LABELS[name]) for name, settings in KINDS.items()}
    return {
        "photo": Step(
            "Photo",
            "The original, which is never changed: how it lies in its frame, and what of it is "
            "drawn.",
            {name: _source(*words) for name, words in SOURCES.items()},
        ),
        "tone": Step(
            "Tone",
            "Turns colours into one grey. What is lost here stays lost.",
            {"": _kind(Tone, "Tone")},
        ),
        "smooth": Step("Smooth", "Takes away what is too fine to draw.", smoothings),
        "again": Step(
            "Smooth again",
            "A second smoothing, of what the first leaves; it has spared places of its own.",
            smoothings,
        ),
        "draw": Step("Draw", "Turns tone into ink. Pick a look, then turn its dials.", looks),
        "clean": Step("Clean", "Removes what is too small to print.", {"": _kind(Clean, "Clean")}),
        "ink": Step("Ink", "The colour this plate prints in.", {"": _kind(Ink, "Ink")}),
        "paper": Step(
            "Paper",
            "What the sheet is printed on, and how large.",
            {name: _kind(size, SIZE_LABELS[name]) for name, size in SIZES.items()},
        ),
    }


# What a plate may be drawn from: its settings, what it is called, and what it is.
SOURCES: dict[str, tuple[type[BaseModel], str, str]] = {
    "picture": (PhotoStep, "The sheet’s photo", "What the sheet was begun with"),
    "photo": (PhotoStep, "Another photo", "Laid where you like, with a crop and cutout of its own"),
    "lettering": (Lettering, "Words", "Set in a face, through any look; they stay text"),
    "block": (Block, "A figure", "Rectangle, ring, rays, border, the subject’s outline"),
    "lines": (Lines, "Lines", "Drawn by hand or along a figure, by a pen or with strewn marks"),
    "copier": (Wear, "A worn copier", "Missed lines, streaks, dust and worn corners over all"),
    "sheet": (Nothing, "Another sheet", "Finished work, live or as it was, laid like a photo"),
    "beneath": (Nothing, "The print beneath", "All that is printed before it, drawn once more"),
}


def _source(settings: type[BaseModel], label: str, purpose: str) -> Kind:
    if settings is PhotoStep:
        return Kind(settings, label, purpose, hand="photo")
    hand = "lines" if settings in (Lines, Lettering) else ""
    return Kind(settings, label, purpose, beside=(Covering,), hand=hand)


def _kind(settings: type[BaseModel], words: str) -> Kind:
    purpose = (settings.__doc__ or "").strip().partition("\n")[0]
    return Kind(settings, words, purpose)
