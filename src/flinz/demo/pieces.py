"""Three pieces made for the Quillmere Allotments: a T-shirt, a fair poster, a seed packet."""

from flinz.core.document.picture import Picture
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet, WatchSpot
from flinz.core.looks.flat_tones import FlatTones
from flinz.core.looks.ink_line import InkLine
from flinz.core.looks.stipple import Stipple
from flinz.core.looks.threshold import Threshold
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import AsPicture
from flinz.core.stages.smooth import EdgeKeeping
from flinz.core.stages.tone import Tone

CREAM = "#f5eedc"
# Suggestions that were taken.
FITTED = ["tone.black", "tone.white", "tone.middle"]
# Name and purpose of the recipe that was kept of the poster.
POSTER_RECIPE = ("Fair poster, slipped marigold", "For every year's fair: colour out of register")


def tee(photo: str) -> Sheet:
    """Old Barnaby in one colour for a T-shirt: bold, cut clean, and the eyes stay open."""
    return Sheet(
        title="Old Barnaby, one-colour tee",
        picture=Picture(photo=photo),
        paper=AsPicture(long_edge=280.0),
        plates=[
            Plate(
                name="black",
                tone=Tone(black=0.007, white=0.836, middle=0.48, shadows=0.4, local=0.5),
                smooth=EdgeKeeping(radius=1.2, strength=0.12),
                draw=Threshold(level=0.42),
                clean=Clean(specks=1.2, pinholes=0.8, smooth=0.36),
                fitted=FITTED,
            )
        ],
        watch=[
            WatchSpot(name="left eye", left=0.39, top=0.34, right=0.47, bottom=0.44, is_eye=True),
            WatchSpot(name="right eye", left=0.51, top=0.34, right=0.59, bottom=0.44, is_eye=True),
        ],
    )


def poster(photo: str) -> Sheet:
    """The autumn fair in two inks: marigold slipped out of register under a black pen."""
    tone = Tone(black=0.231, white=0.678, middle=0.6)
    return Sheet(
        title="Autumn fair poster, two inks",
        picture=Picture(photo=photo),
        paper=AsPicture(long_edge=420.0, colour="#f6efdf"),
        plates=[
            Plate(
                id="marigold",
                name="marigold",
                tone=tone,
                draw=FlatTones(steps=3, smoothing=1.6, crumbs=6.0),
                ink=Ink(colour="#e2a63b", offset_x=2.2, offset_y=-1.4, turn=0.3, smear=0.6),
                fitted=FITTED,
            ),
            Plate(
                id="black",
                name="black",
                tone=tone,
                draw=InkLine(nib=0.55, detail=0.56, blacks=0.4),
                clean=Clean(specks=0.6),
                ink=Ink(colour="#23201d"),
                fitted=FITTED,
            ),
        ],
    )


def packet(photo: str) -> Sheet:
    """The tallest sunflower in dots for a seed packet."""
    return Sheet(
        title="Seed packet, tallest of plot two",
        picture=Picture(photo=photo),
        paper=AsPicture(long_edge=120.0, colour=CREAM),
        plates=[
            Plate(
                name="green-black",
                tone=Tone(black=0.015, white=0.882, middle=0.51, shadows=0.5, local=0.36),
                draw=Stipple(dot=0.32, lightest=0.9, edges=0.85),
                ink=Ink(colour="#1f2a1c"),
                fitted=FITTED,
            )
        ],
        watch=[
            WatchSpot(name="heart", left=0.42, top=0.4, right=0.54, bottom=0.52),
            WatchSpot(name="rim", left=0.6, top=0.3, right=0.72, bottom=0.42),
        ],
    )


ALL = (tee, poster, packet)


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
