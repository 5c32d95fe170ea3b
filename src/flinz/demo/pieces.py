"""Three pieces made for the Quillmere Allotments: a T-shirt, a fair poster, a seed packet."""

from flinz.core.document import Crop, Plate, Sheet, WatchSpot
from flinz.core.looks.cut_paper import CutPaper
from flinz.core.looks.ink_line import InkLine
from flinz.core.looks.stipple import Stipple
from flinz.core.looks.threshold import Threshold
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import Paper
from flinz.core.stages.smooth import EdgeKeeping
from flinz.core.stages.tone import Tone

CREAM = "#f5eedc"
# Name and purpose of the recipe that was kept of the poster.
POSTER_RECIPE = ("Fair poster, slipped marigold", "For every year's fair: colour out of register")


def tee(photo: str) -> Sheet:
    """Old Barnaby in one colour for a T-shirt: bold, cut clean, and the eyes stay open."""
    return Sheet(
        title="Old Barnaby, one-colour tee",
        photo=photo,
        crop=Crop(left=0.17, top=0.0, right=0.83, bottom=0.93),
        paper=Paper(long_edge=280.0),
        plates=[
            Plate(
                name="black",
                tone=Tone(shadows=0.35, local=0.45, middle=0.52),
                smooth=EdgeKeeping(radius=0.9, strength=0.12),
                draw=Threshold(level=0.43),
                clean=Clean(specks=1.2, pinholes=0.8, smooth=0.35),
            )
        ],
        watch=[
            WatchSpot(name="left eye", left=0.29, top=0.36, right=0.43, bottom=0.48, is_eye=True),
            WatchSpot(name="right eye", left=0.49, top=0.35, right=0.63, bottom=0.47, is_eye=True),
        ],
    )


def poster(photo: str) -> Sheet:
    """The autumn fair in two inks: marigold slipped out of register under a black pen."""
    return Sheet(
        title="Autumn fair poster, two inks",
        photo=photo,
        paper=Paper(long_edge=420.0, colour=CREAM),
        plates=[
            Plate(
                id="marigold",
                name="marigold",
                tone=Tone(contrast=0.3, local=0.2),
                smooth=EdgeKeeping(radius=2.0, strength=0.15),
                draw=CutPaper(balance=0.55, smoothing=1.6, crumbs=12.0),
                ink=Ink(colour="#e0952e", offset_x=2.2, offset_y=-1.4, turn=0.3, smear=0.6),
            ),
            Plate(
                id="black",
                name="black",
                tone=Tone(contrast=0.45, local=0.5),
                draw=InkLine(nib=0.6, detail=0.62, blacks=0.35),
                clean=Clean(specks=0.6),
                ink=Ink(colour="#231c17"),
            ),
        ],
    )


def packet(photo: str) -> Sheet:
    """The tallest sunflower in dots for a seed packet."""
    return Sheet(
        title="Seed packet, tallest of plot two",
        photo=photo,
        paper=Paper(long_edge=120.0, colour=CREAM),
        plates=[
            Plate(
                name="green-black",
                tone=Tone(shadows=0.55, local=0.4, contrast=0.15),
                draw=Stipple(dot=0.32, lightest=0.9),
                ink=Ink(colour="#1f2a1c"),
            )
        ],
    )


def pulls(sheet: Sheet) -> list[tuple[str, Sheet]]:
    """Pulls taken on the way to a piece: earlier levels of the T-shirt."""
    plate = sheet.plates[0]
    if not isinstance(plate.draw, Threshold):
        return []
    earlier = []
    for name, level in (("Too dark, the eyes are gone", 0.56), ("Lighter, the hat breaks up", 0.3)):
        draw = plate.draw.model_copy(update={"level": level})
        changed = plate.model_copy(update={"draw": draw})
        earlier.append((name, sheet.model_copy(update={"plates": [changed]})))
    return earlier
