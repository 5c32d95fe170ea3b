"""What there is to choose from, and what a page must know of the rules."""

from fastapi import APIRouter
from pydantic import BaseModel

from flinz.core.deliver.format import Group
from flinz.core.deliver.registry import FORMATS
from flinz.core.dial import DialSpec, OptionSpec
from flinz.core.document.begun import beginnings
from flinz.core.document.plate import MAX_PLATES, Plate
from flinz.core.document.sheet import MAX_WATCH_SPOTS
from flinz.core.document.steps import StepName, steps
from flinz.core.judge.machines import MACHINES, Machine
from flinz.core.judge.printing import NARROW_MM, SPECK_MM2, THIN_MM, dot_mm
from flinz.core.stages.paper import CUTS, Cut
from flinz.core.stages.pots import CLOTHS, INKS, PAIRS, PAPERS, Pair, Pot
from flinz.server.views import MANY_MARKS
from flinz.version import VERSION

router = APIRouter(prefix="/api", tags=["catalogue"])


class KindSpec(BaseModel):
    """One kind of a step (a look, a way to smooth), with its dials.

    answers_to_eyes: its suggested values follow watch spots that are eyes. sized_by: the dial that
    decides how many marks it has, "" where they are not asked for by number.
    """

    name: str
    label: str
    purpose: str
    answers_to_eyes: bool
    sized_by: str
    dials: list[DialSpec]
    # Where the hand's verbs are of the kind, not of the step: their stage, and the verbs.
    hand: str
    verbs: list[OptionSpec]


class StepSpec(BaseModel):
    """A step of the run, its kinds, and what the hand can do there.

    One without a choice has one kind, named "".
    """

    name: StepName
    title: str
    hint: str
    kinds: list[KindSpec]
    verbs: list[OptionSpec]


class FormatSpec(BaseModel):
    """A format: its name in wishes, what it is called, and what else may be wished of it."""

    name: str
    label: str
    group: str
    wishes: list[str]


class Limits(BaseModel):
    """How many of something a sheet may have, and what a press holds: line, gap, dot across."""

    plates: int
    watch_spots: int
    thin_mm: float
    narrow_mm: float
    speck_mm: float
    # Above so many marks it is said how long it takes to place them.
    marks: int


class Colours(BaseModel):
    """Inks, papers and cloths by name, and inks that go together."""

    inks: list[Pot]
    papers: list[Pot]
    cloths: list[Pot]
    pairs: list[Pair]


class Catalogue(BaseModel):
    """Everything a page needs to build its dials and to say what is allowed."""

    version: str
    steps: list[StepSpec]
    formats: list[FormatSpec]
    machines: list[Machine]
    limits: Limits
    colours: Colours
    # A plate to begin with, of each kind of source but the sheet's own photo.
    beginnings: dict[str, Plate]
    # Sizes that paper is cut to, upright.
    cuts: list[Cut]


@router.get("/catalogue")
def catalogue() -> Catalogue:
    """Every step with its kinds and their dials, the formats, the limits."""
    return Catalogue(
        version=VERSION,
        steps=[
            StepSpec(
                name=name,
                title=step.title,
                hint=step.hint,
                kinds=[
                    KindSpec(
                        name=kind_name,
                        label=kind.label,
                        purpose=kind.purpose,
                        answers_to_eyes=kind.answers_to_eyes,
                        sized_by=kind.sized_by,
                        dials=kind.dials,
                        hand=kind.hand,
                        verbs=step.verbs(kind.hand),
                    )
                    for kind_name, kind in step.kinds.items()
                ],
                verbs=step.verbs(name),
            )
            for name, step in steps().items()
        ],
        formats=[
            FormatSpec(name=each.name, label=each.label, group=each.group, wishes=each.wishes)
            for each in sorted(FORMATS.values(), key=lambda each: list(Group).index(each.group))
        ],
        machines=list(MACHINES),
        limits=Limits(
            plates=MAX_PLATES,
            watch_spots=MAX_WATCH_SPOTS,
            thin_mm=THIN_MM,
            narrow_mm=NARROW_MM,
            speck_mm=round(dot_mm(SPECK_MM2), 2),
            marks=MANY_MARKS,
        ),
        beginnings=beginnings(),
        cuts=list(CUTS),
        colours=Colours(
            inks=list(INKS), papers=list(PAPERS), cloths=list(CLOTHS), pairs=list(PAIRS)
        ),
    )
