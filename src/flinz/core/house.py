"""The house recipes: stages combined for a purpose, to be used as they are or as a start."""

from typing import Any

from flinz.core.document import Plate, Recipe
from flinz.core.looks import LOOKS
from flinz.core.stages.blend import Blend
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Colouring, Ink
from flinz.core.stages.paper import Paper
from flinz.core.stages.smooth import AlongForm, EdgeKeeping, Gaussian, Median, NoSmoothing
from flinz.core.stages.tone import Tone

# Tone fitted to the photo: a recipe is used on pictures it has not seen.
FITS = ["tone.black", "tone.white", "tone.middle"]
KRAFT, CREAM, NIGHT = "#d9c3a0", "#f6efdf", "#1d1b1a"
SOOT, VERMILION, MARIGOLD, LEAF, TEAL = "#23201d", "#c2452d", "#e2a63b", "#5d7f4a", "#2f7f7a"


def _plate(look: str, name: str = "", number: int = 1, **stages: Any) -> Plate:
    """A plate of a look: its dials as draw={...}, other stages as they are."""
    dials = stages.pop("draw", {})
    fitted = [*FITS, *stages.pop("fitted", [])]
    return Plate(
        id=f"plate-{number}",
        name=name,
        draw=LOOKS[look].settings(**dials),
        fitted=fitted,
        **stages,
    )


def _recipe(name: str, purpose: str, *plates: Plate, **paper: Any) -> Recipe:
    return Recipe(name=name, purpose=purpose, plates=list(plates), paper=Paper(**paper))


def house() -> list[Recipe]:
    """Every house recipe, in the order in which a contact sheet offers them."""
    return [*_shirts(), *_packets(), *_posters(), *_zines(), *_drawings(), *_transfers()]


def _shirts() -> list[Recipe]:
    return [
        _recipe(
            "tee-one-colour",
            "One-colour tee: bold shapes that read across the street and cut clean",
            _plate(
                "cut-paper",
                smooth=EdgeKeeping(radius=1.2, strength=0.12),
                draw={"crumbs": 4.0},
                fitted=["draw.balance"],
                clean=Clean(smooth=0.3),
            ),
            long_edge=280.0,
        ),
        _recipe(
            "tee-chalk-on-black",
            "Light ink on a dark shirt: the lights are scribbled in chalk",
            _plate(
                "loose-hatch",
                tone=Tone(invert=True, local=0.3),
                draw={"spacing": 1.1, "nib": 0.42, "edges": 0.9},
                ink=Ink(colour="#f4f1ea", blend=Blend.NORMAL),
            ),
            long_edge=280.0,
            colour=NIGHT,
        ),
        _recipe(
            "tee-scraperboard",
            "White cuts on black, along the form, for dark cloth",
            _plate(
                "contour-hatch",
                tone=Tone(invert=True, local=0.25),
                draw={"spacing": 0.9, "edges": 0.9, "lightest": 0.82},
                ink=Ink(colour="#ffffff", blend=Blend.NORMAL),
            ),
            long_edge=260.0,
            colour=NIGHT,
        ),
        _recipe(
            "stamp",
            "Rubber stamp: survives 40 mm wide, no hairlines, no crumbs",
            _plate(
                "threshold",
                tone=Tone(local=0.5, reach=4.0),
                smooth=EdgeKeeping(radius=0.8, strength=0.15),
                fitted=["draw.level"],
                clean=Clean(specks=0.12, pinholes=0.12, smooth=0.2),
            ),
            long_edge=40.0,
        ),
    ]


def _packets() -> list[Recipe]:
    return [
        _recipe(
            "packet-engraved",
            "Seed packet, engraved: fine strokes along the form, crossed in the dark",
            _plate(
                "contour-hatch",
                tone=Tone(local=0.2, shadows=0.25),
                draw={
                    "spacing": 0.5,
                    "thinnest": 0.06,
                    "thickest": 0.3,
                    "layers": 2,
                    "edges": 0.85,
                    "length": 9.0,
                },
            ),
            long_edge=110.0,
            colour=CREAM,
        ),
        _recipe(
            "packet-stippled",
            "Seed packet, stippled: patient dots that crowd along the edges",
            _plate(
                "stipple",
                tone=Tone(local=0.25, shadows=0.2),
                draw={"dot": 0.32, "edges": 0.85, "lightest": 0.9},
            ),
            long_edge=110.0,
        ),
        _recipe(
            "field-guide",
            "Plant and animal plates: dots for the tone, a fine pen for the edges",
            _plate(
                "stipple",
                "Dots",
                tone=Tone(shadows=0.35, local=0.2),
                draw={"dot": 0.36, "darkest": 0.0, "lightest": 0.86},
            ),
            _plate(
                "ink-line",
                "Pen",
                2,
                draw={"nib": 0.25, "blacks": 0.12, "detail": 0.5, "flow": 3.0},
                clean=Clean(specks=0.15),
            ),
            long_edge=160.0,
        ),
        _recipe(
            "leaf-marks",
            "A decorative label: the picture is strewn with leaves",
            _plate(
                "stipple",
                tone=Tone(contrast=0.2),
                draw={"mark": "leaf", "dot": 0.9, "smallest": 0.5, "edges": 0.7},
                ink=Ink(colour=LEAF),
            ),
            long_edge=160.0,
            colour=CREAM,
        ),
    ]


def _posters() -> list[Recipe]:
    return [
        _recipe(
            "fair-poster-two-inks",
            "Fair poster: flat marigold under a black pen, slightly out of register",
            _plate(
                "flat-tones",
                "Marigold",
                draw={"steps": 3, "smoothing": 1.6, "crumbs": 6.0},
                ink=Ink(colour=MARIGOLD, offset_x=0.9, offset_y=0.6),
            ),
            _plate(
                "ink-line",
                "Black",
                2,
                draw={"nib": 0.5, "blacks": 0.4, "detail": 0.66},
                clean=Clean(specks=0.3),
                ink=Ink(colour=SOOT),
            ),
            long_edge=420.0,
            colour=CREAM,
        ),
        _recipe(
            "fair-poster-torn-copy",
            "Fair poster, torn copy: a photocopy of a photocopy over vermilion",
            _plate(
                "cut-paper",
                "Vermilion",
                draw={"smoothing": 2.5, "crumbs": 20.0, "balance": 0.5},
                ink=Ink(colour=VERMILION, offset_x=-1.5, offset_y=1.0, turn=0.4),
            ),
            _plate(
                "photocopy",
                "Toner",
                2,
                draw={
                    "generations": 2,
                    "grain_size": 1.0,
                    "dirt": 0.5,
                    "corners": 30.0,
                    "streaks": 0.4,
                },
            ),
            long_edge=420.0,
            colour=CREAM,
        ),
        _recipe(
            "duotone-screens",
            "Two screens at two angles: teal carries the lights, soot the darks",
            _plate(
                "line-screen",
                "Teal",
                draw={"ruling": 7.0, "angle": 75.0},
                ink=Ink(colour=TEAL),
            ),
            _plate(
                "line-screen",
                "Soot",
                2,
                tone=Tone(contrast=0.45, pivot=0.35),
                draw={"ruling": 7.0, "angle": 15.0, "lightest": 0.62},
                ink=Ink(colour=SOOT),
            ),
            long_edge=420.0,
            colour=CREAM,
        ),
        _recipe(
            "woodblock",
            "Woodblock print: gouged lines over smoothed forms, ink on cream",
            _plate(
                "woodcut",
                tone=Tone(local=0.35),
                smooth=AlongForm(length=4.0, form=1.2),
                draw={"scale": 1.3, "relief": 0.7},
                clean=Clean(specks=0.2, smooth=0.12),
                ink=Ink(colour=SOOT),
            ),
            long_edge=300.0,
            colour=CREAM,
        ),
    ]


def _zines() -> list[Recipe]:
    return [
        _recipe(
            "zine-copy",
            "Zine page: straight from the office copier, grain and all",
            _plate(
                "photocopy",
                tone=Tone(local=0.3),
                draw={"generations": 2, "grain": 0.55, "dirt": 0.35},
            ),
            long_edge=210.0,
        ),
        _recipe(
            "newsprint",
            "Newsprint: a coarse round dot that still prints on poor paper",
            _plate(
                "dot-screen",
                tone=Tone(local=0.35, contrast=0.15),
                draw={"ruling": 14.0, "angle": 45.0},
                ink=Ink(colour=SOOT),
            ),
            long_edge=200.0,
            colour="#efe9dc",
        ),
        _recipe(
            "comic-page",
            "Comic base: three flat greys under a lively pen",
            _plate(
                "flat-tones",
                "Tones",
                smooth=Median(radius=0.8),
                draw={"steps": 4, "smoothing": 1.2, "crumbs": 4.0, "darkest": 0.05},
                ink=Ink(opacity=0.6),
            ),
            _plate(
                "ink-line",
                "Pen",
                2,
                draw={"nib": 0.4, "blacks": 0.35, "detail": 0.55},
                clean=Clean(specks=0.25),
            ),
            long_edge=210.0,
        ),
        _recipe(
            "misprint",
            "Two pulls that missed each other: a soft red ghost beside the black",
            _plate(
                "pencil",
                "Red",
                draw={"softness": 5.0, "stroke": 0.2},
                ink=Ink(
                    colour=VERMILION, offset_x=2.2, offset_y=-0.8, smear=1.2, smear_angle=-20.0
                ),
            ),
            _plate("pencil", "Black", 2, draw={"darkness": 1.6}, ink=Ink(colour=SOOT)),
            long_edge=210.0,
            colour=CREAM,
        ),
    ]


def _drawings() -> list[Recipe]:
    return [
        _recipe(
            "soft-portrait",
            "A portrait in soft pencil: open skin, gentle modelling",
            _plate(
                "pencil",
                tone=Tone(reds=0.15, shadows=0.3),
                smooth=Gaussian(radius=0.15),
                draw={"softness": 4.5, "stroke": 0.25, "accents": 0.25, "shading": 0.4},
            ),
        ),
        _recipe(
            "fur-and-feather",
            "Animals: every hair drawn out into one clean flow",
            _plate(
                "pencil",
                tone=Tone(local=0.3),
                smooth=AlongForm(length=2.5, form=0.7, crisp=0.5),
                draw={"accents": 0.6, "stroke": 0.75, "darkness": 1.5},
            ),
        ),
        _recipe(
            "dark-subject",
            "Black dogs and felt hats: shadows opened before the pencil sees them",
            _plate(
                "pencil",
                tone=Tone(shadows=0.8, local=0.45, reach=8.0),
                draw={"shading": 0.7, "accents": 0.5, "softness": 3.0},
            ),
        ),
        _recipe(
            "rubbing",
            "Wax on rough paper: no strokes, all tooth",
            _plate(
                "pencil",
                tone=Tone(local=0.4),
                draw={"tooth": 1.0, "stroke": 0.0, "softness": 6.0, "darkness": 1.8},
                ink=Ink(colour=SOOT),
            ),
            colour=KRAFT,
        ),
        _recipe(
            "bookplate",
            "Bookplate: close crosshatching with pen outlines",
            _plate(
                "crosshatch",
                tone=Tone(local=0.25),
                draw={"spacing": 0.6, "thickest": 0.3, "outlines": 0.25, "wobble": 0.3},
            ),
            long_edge=120.0,
        ),
        _recipe(
            "notebook",
            "A quick hand: loose hatching and a pen that skips the small things",
            _plate("loose-hatch", "Hatch", draw={"spacing": 1.2, "layers": 3}),
            _plate(
                "ink-line",
                "Pen",
                2,
                draw={"nib": 0.3, "blacks": 0.0, "detail": 0.45, "flow": 3.0},
                clean=Clean(specks=0.3),
            ),
        ),
        _recipe(
            "medal",
            "Rings from the middle of the sheet swell with the dark",
            _plate(
                "line-screen",
                tone=Tone(local=0.4, contrast=0.2),
                smooth=NoSmoothing(),
                draw={"lines": "concentric", "ruling": 9.0},
            ),
            long_edge=160.0,
        ),
        _recipe(
            "two-colour-map",
            "Darks one colour, lights another: a pencil in teal on marigold",
            _plate(
                "pencil",
                draw={"shading": 0.8, "softness": 5.0},
                ink=Ink(
                    colouring=Colouring.TWO_COLOUR,
                    colour="#123c40",
                    lights="#f0c46b",
                    blend=Blend.NORMAL,
                ),
            ),
        ),
    ]


def _transfers() -> list[Recipe]:
    return [
        _recipe(
            "transfer-outline",
            "Transfer for painting: outlines thick enough to trace on a light box",
            _plate(
                "outline",
                smooth=Median(radius=0.8),
                draw={"nib": 0.7, "shapes": 3, "smoothing": 1.2, "crumbs": 8.0},
            ),
            long_edge=297.0,
        ),
        _recipe(
            "transfer-tones",
            "Transfer with its shadows mapped: outlines over pale flat greys",
            _plate(
                "flat-tones",
                "Shadows",
                draw={"steps": 4, "smoothing": 1.6, "crumbs": 10.0},
                ink=Ink(opacity=0.25),
            ),
            _plate(
                "outline",
                "Outlines",
                2,
                draw={"nib": 0.6, "shapes": 3, "smoothing": 1.6, "crumbs": 10.0},
            ),
            long_edge=297.0,
        ),
    ]
