"""Six pieces finished by hand: cut out, opened and closed, faded, spared, on a wall."""

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from flinz.core.document.picture import Picture
from flinz.core.document.plate import HandName, Plate
from flinz.core.document.sheet import Sheet
from flinz.core.hand.cutout import Cutout
from flinz.core.hand.pieces import appended
from flinz.core.hand.strokes import Brush, Stroke
from flinz.core.looks.ink_line import InkLine
from flinz.core.looks.pencil import Pencil
from flinz.core.looks.stipple import Stipple
from flinz.core.looks.threshold import Threshold
from flinz.core.looks.undrawn import Undrawn
from flinz.core.planes.textures import Surface
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import AsPicture
from flinz.core.stages.part import Part
from flinz.core.stages.smooth import EdgeKeeping, Smear
from flinz.core.stages.tone import Tone

# Height to width of the demo's photos that lie, and width to height of those that stand.
SHORT = 0.75
# Sizes are written in mm on a sheet of this long edge.
SHEET_MM = 200.0

Places = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Handmade:
    """A sheet of a photo with hand work. cutout: its strokes. hand: those of a plate's stages."""

    photo: str
    sheet: Sheet
    cutout: list[Stroke] = field(default_factory=list)
    hand: dict[tuple[str, HandName], list[Stroke]] = field(default_factory=dict)

    def on(self, photo_id: str) -> tuple[Sheet, dict[str, bytes]]:
        """The sheet on a photo of the store, and the pieces of its hand work."""
        made: dict[str, bytes] = {}

        def listed(strokes: list[Stroke]) -> str:
            edited = appended(None, strokes, made.__getitem__)
            made.update(edited.new)
            return edited.id

        picture = self.sheet.picture.model_copy(update={"photo": photo_id})
        cutouts = {photo_id: listed(self.cutout)} if self.cutout else {}
        plates = []
        for plate in self.sheet.plates:
            of_plate = {
                stage: listed(strokes)
                for (name, stage), strokes in self.hand.items()
                if name == plate.id
            }
            plates.append(plate.model_copy(update={"hand": of_plate}))
        changed = {"picture": picture, "cutouts": cutouts, "plates": plates}
        return self.sheet.model_copy(update=changed), made


def _lying(points: Places) -> np.ndarray:
    places = np.array(points) * (1.0, SHORT)
    return np.column_stack([places, np.ones(len(places))])


def _standing(points: Places) -> np.ndarray:
    places = np.array(points) * (SHORT, 1.0)
    return np.column_stack([places, np.ones(len(places))])


def _stroke(
    verb: str,
    points: Places,
    size_mm: float = 8.0,
    lies: Callable[[Places], np.ndarray] = _lying,
    **brush: object,
) -> Stroke:
    said = {"verb": verb, "size": size_mm / SHEET_MM, **brush}
    return Stroke(Brush.model_validate(said), lies(points))


ALL_OVER = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))

STICKER = Handmade(
    "hedgehog.jpg",
    Sheet(
        title="Hedgehog sticker, cut out",
        picture=Picture(cutout=Cutout(hair=2.4)),
        paper=AsPicture(long_edge=150.0, colour="#f2d9a0"),
        plates=[
            Plate(
                name="black",
                photo=Part(part="subject", contour=0.5),
                tone=Tone(shadows=0.35, local=0.3),
                draw=InkLine(nib=0.28, detail=0.7, blacks=0.4),
                fitted=["tone.black", "tone.white", "tone.middle"],
            )
        ],
    ),
    cutout=[
        _stroke("keep", ((0.22, 0.6), (0.28, 0.35), (0.5, 0.2), (0.7, 0.35), (0.74, 0.58))),
        _stroke("keep", ((0.4, 0.66), (0.5, 0.48), (0.6, 0.6))),
        _stroke("keep", ((0.585, 0.66), (0.61, 0.69), (0.635, 0.66)), 4.0),
        _stroke("drop", ((0.03, 0.55), (0.08, 0.05), (0.9, 0.04), (0.97, 0.5))),
        _stroke("drop", ((0.03, 0.92), (0.35, 0.93), (0.7, 0.95), (0.97, 0.86))),
        _stroke("drop", ((0.1, 0.72), (0.24, 0.78), (0.36, 0.86)), 4.0),
        _stroke("drop", ((0.64, 0.78), (0.72, 0.74), (0.84, 0.7)), 4.0),
        _stroke("drop", ((0.42, 0.8), (0.45, 0.76), (0.5, 0.76), (0.55, 0.8)), 3.0),
        _stroke("drop", ((0.77, 0.7), (0.785, 0.67), (0.8, 0.65)), 3.0),
        _stroke("drop", ((0.8, 0.55), (0.88, 0.6), (0.96, 0.58)), 4.0),
    ],
)

TEE = Handmade(
    "scarecrow.jpg",
    Sheet(
        title="Old Barnaby, face opened and hat closed by hand",
        paper=AsPicture(long_edge=280.0),
        plates=[
            Plate(
                name="black",
                tone=Tone(black=0.007, white=0.836, middle=0.48, local=0.4),
                smooth=EdgeKeeping(radius=1.2, strength=0.12),
                draw=Threshold(level=0.42),
                clean=Clean(specks=1.2, pinholes=0.8, smooth=0.36),
            )
        ],
    ),
    hand={
        ("plate-1", "tone"): [
            _stroke(
                "lighten",
                ((0.36, 0.32), (0.5, 0.29), (0.62, 0.33), (0.62, 0.6), (0.5, 0.72), (0.38, 0.6)),
                6.0,
                by="area",
                hardness=0.0,
                strength=0.45,
            ),
            _stroke("darken", ((0.2, 0.2), (0.42, 0.16), (0.6, 0.08)), 26.0, hardness=0.4),
            _stroke("darken", ((0.6, 0.16), (0.8, 0.3)), 18.0, hardness=0.4),
        ]
    },
)

HALF = Handmade(
    "sunflower.jpg",
    Sheet(
        title="Sunflower, half photo and half line",
        paper=AsPicture(long_edge=200.0, colour="#fbf7ee"),
        plates=[
            Plate(
                id="photo",
                name="photo",
                draw=Undrawn(ink="full"),
                ink=Ink(
                    colouring="photo",
                    fade="straight",
                    fade_x=0.4,
                    fade_y=0.45,
                    gone_x=0.62,
                    gone_y=0.55,
                ),
            ),
            Plate(
                id="line",
                name="line",
                tone=Tone(shadows=0.3, local=0.3),
                draw=InkLine(nib=0.35, detail=0.66, blacks=0.25),
                ink=Ink(
                    colour="#23201d",
                    fade="straight",
                    fade_x=0.34,
                    fade_y=0.43,
                    gone_x=0.54,
                    gone_y=0.52,
                    fade_beside=True,
                ),
                fitted=["tone.black", "tone.white", "tone.middle"],
            ),
        ],
    ),
)

RUNNING = Handmade(
    "boots.jpg",
    Sheet(
        title="Boots in a hurry, smeared behind",
        paper=AsPicture(long_edge=200.0),
        plates=[
            Plate(
                name="pencil",
                tone=Tone(shadows=0.5, local=0.3),
                smooth=Smear(length=22.0, angle=8.0),
                draw=Pencil(),
                fitted=["tone.black", "tone.white", "tone.middle"],
            )
        ],
    ),
    cutout=[
        _stroke("keep", ((0.37, 0.36), (0.32, 0.62), (0.3, 0.93)), 8.0, _standing),
        _stroke("keep", ((0.52, 0.34), (0.56, 0.62), (0.92, 0.86)), 8.0, _standing),
        _stroke("drop", ((0.04, 0.9), (0.06, 0.1), (0.94, 0.08), (0.97, 0.6)), 8.0, _standing),
        _stroke("drop", ((0.44, 0.95), (0.47, 0.9), (0.62, 0.96), (0.96, 0.97)), 5.0, _standing),
    ],
    hand={
        ("plate-1", "smooth"): [
            _stroke("spare", ALL_OVER, 1.0, _standing, by="area", kept_to="subject")
        ]
    },
)

SNAIL = Handmade(
    "snail.jpg",
    Sheet(
        title="Snail in dots that follow detail",
        paper=AsPicture(long_edge=180.0),
        plates=[
            Plate(
                name="black",
                tone=Tone(shadows=0.45, local=0.35),
                draw=Stipple(dot=0.55, detail=1.0, edges=0.7),
                fitted=["tone.black", "tone.white", "tone.middle"],
            )
        ],
    ),
)

WALL = Handmade(
    "scarecrow.jpg",
    Sheet(
        title="Old Barnaby on a brick wall",
        picture=Picture(cutout=Cutout(hair=3.0)),
        paper=AsPicture(
            long_edge=280.0, colour="#b4684c", texture=Surface.BRICK, tooth=0.3, printed=True
        ),
        plates=[
            Plate(
                name="colours",
                photo=Part(part="subject"),
                draw=Undrawn(ink="full"),
                ink=Ink(colouring="photo", saturation=1.3, blend="normal", opacity=0.62),
            ),
            Plate(
                id="plate-2",
                name="black",
                photo=Part(part="subject"),
                tone=Tone(shadows=0.4, local=0.4),
                draw=Threshold(level=0.36, edge=1.0),
                clean=Clean(specks=0.6, pinholes=0.4),
                ink=Ink(colour="#1c1512"),
                fitted=["tone.black", "tone.white", "tone.middle"],
            ),
        ],
    ),
    cutout=[
        _stroke("keep", ((0.30, 0.12), (0.5, 0.05), (0.62, 0.12), (0.75, 0.3))),
        _stroke("keep", ((0.2, 0.18), (0.4, 0.24), (0.55, 0.5), (0.55, 0.8), (0.8, 0.95))),
        _stroke("keep", ((0.3, 0.35), (0.28, 0.55), (0.35, 0.75), (0.2, 0.95))),
        _stroke("keep", ((0.78, 0.4), (0.82, 0.6), (0.7, 0.75))),
        _stroke("drop", ((0.03, 0.35), (0.06, 0.05), (0.3, 0.02))),
        _stroke("drop", ((0.7, 0.03), (0.95, 0.06), (0.97, 0.4))),
        _stroke("drop", ((0.03, 0.6), (0.05, 0.85)), 5.0),
        _stroke("drop", ((0.96, 0.6), (0.97, 0.9)), 5.0),
        _stroke("drop", ((0.72, 0.15), (0.73, 0.2), (0.72, 0.23)), 4.0),
        _stroke("drop", ((0.29, 0.1), (0.33, 0.08)), 3.0),
        _stroke("drop", ((0.25, 0.66), (0.3, 0.62)), 3.0),
        _stroke("drop", ((0.82, 0.82), (0.85, 0.8)), 3.0),
    ],
    hand={
        ("plate-2", "clean"): [
            _stroke("spatter", ((0.2, 0.42), (0.16, 0.7), (0.12, 0.96)), 26.0),
            _stroke("spatter", ((0.84, 0.36), (0.9, 0.7), (0.93, 0.97)), 26.0),
        ]
    },
)

ALL = (STICKER, TEE, HALF, RUNNING, SNAIL, WALL)
