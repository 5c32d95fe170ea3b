"""The quality table: how good the drawings are, on charts and on the demo's photos."""

from collections.abc import Iterator
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray
from skimage.metrics import structural_similarity

from flinz.core.dial import dials_of
from flinz.core.document import builtin
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.ground.faces import Face
from flinz.core.judge.printing import report
from flinz.core.looks.registry import LOOKS, look_of
from flinz.core.planes.decoding import decode
from flinz.core.planes.filters import Plane, averaged
from flinz.core.planes.photo import Photo
from flinz.core.planes.textures import ROUGHER
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.scale import region_frame
from flinz.core.stages.clean import Clean
from flinz.core.stages.paper import AsPicture
from flinz.demo import composed
from flinz.demo.scenario import picture
from flinz.quality import cutouts, faint, papers, placed, ramp, sizes, sourced, traced
from flinz.quality.coherence import ends_in_rows, line_figures, parts_and_gaps

Row = dict[str, Any]
PHOTOS = ("scarecrow.jpg", "hedgehog.jpg", "boots.jpg", "pears.jpg")
STEADY_AT, STEADY_BOUND = 1400, 0.06
# Of a photo's line, how much is left at 30 % contrast.
LINE_LEFT = 0.9
RINGS_MM = (1.0, 1.25, 1.5, 2.0, 3.0, 5.0)


def run(quick: bool = False) -> list[Row]:
    """Print the table and return its rows: name, figure, bound, holds.

    quick: one photo, and no steadiness. bound is None for figures that are only told.
    """
    rows: list[Row] = []
    print(f"{'figure':<66}{'measured':>10}{'bound':>10}")
    for row in _rows(quick):
        rows.append(row)
        bound = "" if row["bound"] is None else f"{row['sense']} {row['bound']:g}"
        mark = "" if row["holds"] else "  not held"
        print(f"{row['name']:<66}{row['figure']:>10.4f}{bound:>10}{mark}", flush=True)
    return rows


def _row(name: str, figure: float, bound: float | None = None, at_least: bool = False) -> Row:
    holds = bound is None or (figure >= bound if at_least else figure <= bound)
    return {
        "name": name,
        "figure": round(float(figure), 5),
        "bound": bound,
        "sense": ">=" if at_least else "<=",
        "holds": bool(holds),
    }


def _rows(quick: bool) -> Iterator[Row]:
    for name, turned in ramp.cases():
        said = ", ".join([name, *(f"{dial} {value}" for dial, value in turned.items())])
        error = ramp.tone_error(name, turned)
        yield _row(f"tone error, ramp: {said}", error, LOOKS[name].tone_error)
    yield _row("blue noise, 30 % tone: stipple", low_frequency_power(), 0.1)
    for name in ("ink-line", "outline"):
        yield _row(f"circles that are one ring: {name}", share_of_rings(name), 1.0, at_least=True)
        for contrast in faint.CONTRASTS:
            title = f"discs at contrast {contrast:g} that are one ring: {name}"
            share = faint.rings(faint.disc_chart(contrast), name)
            yield _row(title, share, 1.0, at_least=True)
    for name in sizes.SCREENS:
        title = f"even tone under 40 rulings, proofs of 300 to 1,000 px: {name}"
        yield _row(title, sizes.beating(name), 0.01)
    yield _row("stroke ends on an even ground, largest power: contour hatch", ends_in_rows(), 40)
    yield _row("area lost by smooth edges, checker", area_moved(), 0.01)
    for surface in ROUGHER:
        yield _row(f"texture, a large one shrunk: {surface}", papers.likeness(surface), 0.97, True)
        deep = papers.likeness(surface, 2.5)
        yield _row(f"texture, a large one shrunk, 2.5 times as deep: {surface}", deep, 0.96, True)
        held = papers.held_otherwise(surface)
        yield _row(f"texture, ink held small and large: {surface}", held, 0.01)
    yield from _source_rows(quick)
    photos = {name: decode(picture(name), name) for name in PHOTOS[: 1 if quick else None]}
    for photo_name, photo in photos.items():
        where = photo_name.partition(".")[0]
        yield from _proof_rows(photo, where)
        for name in LOOKS:
            likeness = _half_likeness(photo, name)
            yield _row(f"scale-free, {where}: {name}", likeness, 0.93, at_least=True)
        yield from _line_rows(photo, where)
        yield from _print_rows(photo, where)
    yield from _size_rows(list(photos.values()))
    yield from _placed_rows(photos[PHOTOS[0]], PHOTOS[0].partition(".")[0])
    yield from _traced_rows(photos)
    yield from _cutout_rows(["pears"] if quick else list(cutouts.OVERLAP))
    if not quick:
        # A shape that comes to no whole number of rows at most sizes.
        oblong = photos[PHOTOS[0]].pixels[:1333]
        yield from _proof_rows(Photo(np.ascontiguousarray(oblong), "oblong"), "oblong")
        yield from _steadiness(photos[PHOTOS[0]])


def _source_rows(quick: bool) -> Iterator[Row]:
    for face in Face:
        likeness = sourced.set_as_elsewhere(face)
        yield _row(f"words at 300 dpi, set elsewhere: {face}", likeness, 0.99, True)
    yield _row("spacing of marks on open lines, largest error", sourced.spacing_error(), 0.02)
    for made in composed.ALL[: 1 if quick else None]:
        likeness = sourced.composed_likeness(made)
        yield _row(f"composed sheet, export shrunk: {made.sheet.title}", likeness, 0.97, True)


def _traced_rows(photos: dict[str, Photo]) -> Iterator[Row]:
    for photo_name, photo in photos.items():
        for recipe, (most, least) in traced.RECIPES.items():
            found = traced.judged(photo, recipe)
            where = f"{photo_name.partition('.')[0]}: {recipe}"
            yield _row(f"tracing, ink that differs, {where}", found.differs, most)
            yield _row(f"tracing, mm of outline a curve, {where}", found.mm_a_curve, least, True)
            yield _row(f"tracing, farthest over closeness, {where}", found.farthest, 2.0)


def _cutout_rows(names: list[str]) -> Iterator[Row]:
    photos = {name: decode(picture(f"{name}.jpg"), f"{name}.jpg") for name in names}
    for name, found in cutouts.judgements(photos):
        bound = cutouts.OVERLAP.get(name)
        yield _row(f"cutout, overlap after 8 strokes: {name}", found.overlap, bound, True)
        most = cutouts.ALPHA_ERROR.get(name)
        yield _row(f"cutout, error of alpha in the band: {name}", found.error, most)
        if found.haired is not None:
            share, error = found.haired
            yield _row(f"cutout, overlap with one over hair besides: {name}", share)
            yield _row(f"cutout, error of alpha with one over hair besides: {name}", error)
        yield _row(f"cutout, overlap with no stroke: {name}", found.guess)
        yield _row(f"cutout, overlap after 8 that only correct: {name}", found.mended)


def low_frequency_power() -> float:
    """Power of settled stipple on flat 30 % ink below half its principal frequency.

    Relative to the plateau, radially averaged (R. Ulichney, 1988).
    """
    photo = Photo(np.full((512, 512, 3), round(0.7 * 255), np.uint8), "flat")
    # Dots of one size: their places alone are judged.
    dials = {"smallest": 1.0, "edges": 0.0, "lightest": 1.0, "darkest": 0.0, "dot": 1.0}
    plate = Plate(draw=LOOKS["stipple"].settings(**dials))
    sheet = Sheet(plates=[plate], paper=AsPicture(long_edge=100.0))
    dots = Press().marks(photo, sheet, plate)
    side, sheet_mm = 1024, 100.0
    at = np.clip((np.stack([dots.y, dots.x]) / sheet_mm * side).astype(int), 0, side - 1)  # type: ignore[union-attr]
    points = np.zeros((side, side))
    np.add.at(points, (at[0], at[1]), 1)
    count = points.sum()
    power = np.abs(np.fft.fft2(points - points.mean())) ** 2 / count
    away = np.hypot(*np.meshgrid(np.fft.fftfreq(side), np.fft.fftfreq(side))) * side / sheet_mm
    # The principal frequency of points this dense, were they on a hexagonal grid.
    principal = np.sqrt(count / sheet_mm**2 * 2 / np.sqrt(3))
    low = power[(away > 0.02) & (away < 0.5 * principal)].mean()
    plateau = power[(away > 2.0 * principal) & (away < 3.0 * principal)].mean()
    return float(low / plateau)


def share_of_rings(name: str) -> float:
    """Share of dark discs whose line is one connected ring."""
    dials = {"blacks": 0.0} if name == "ink-line" else {"shapes": 1, "crumbs": 0.5}
    whole_rings = [_is_ring(name, radius, dials) for radius in RINGS_MM]
    return sum(whole_rings) / len(whole_rings)


def _is_ring(name: str, radius_mm: float, dials: dict[str, float]) -> bool:
    y, x = np.mgrid[-120:120, -120:120] / 12.0
    disc = np.where(np.hypot(x, y) < radius_mm, 51.0, 229.0).astype(np.float32)
    soft = np.rint(cv2.GaussianBlur(disc, (0, 0), 1)).astype(np.uint8)
    photo = Photo(np.repeat(soft[..., None], 3, 2), f"disc-{radius_mm}")
    plate = Plate(draw=LOOKS[name].settings(**dials))
    sheet = Sheet(plates=[plate], paper=AsPicture(long_edge=20.0))
    drawn = Press().proof(photo, sheet, whole(sheet, photo), exact=True) < 0.5
    return parts_and_gaps(drawn) == (1, 2)


def area_moved() -> float:
    """Share of ink that smooth edges adds to or takes from a checker of 5 mm."""
    cells = ((np.indices((600, 800)) // 50).sum(0) % 2 * 255).astype(np.uint8)
    photo = Photo(np.repeat(cells[..., None], 3, 2), "checker")
    rough = Plate(draw=LOOKS["threshold"].settings())
    smooth = rough.model_copy(update={"clean": Clean(smooth=0.5)})
    inks = []
    for plate in (rough, smooth):
        sheet = Sheet(plates=[plate])
        inks.append(float(Press().cover(photo, sheet, plate, whole(sheet, photo)).mean()))
    return abs(inks[1] - inks[0]) / inks[0]


def _likeness(one: Plane, other: Plane) -> float:
    if one.ndim != other.ndim:
        one, other = (
            each if each.ndim == 3 else np.repeat(each[..., None], 3, 2) for each in (one, other)
        )
    axis = 2 if one.ndim == 3 else None
    found = structural_similarity(one, other, data_range=1.0, channel_axis=axis)  # type: ignore[no-untyped-call]
    return float(found)


def _proof_likeness(photo: Photo, name: str) -> float:
    sheet = sizes.as_recipe(photo, name)
    proof = Press().proof(photo, sheet, whole(sheet, photo, 700))
    export = Press().proof(photo, sheet, whole(sheet, photo, 2800), exact=True)
    return _likeness(averaged(export, proof.shape[1], proof.shape[0]), proof)


def _proof_rows(photo: Photo, where: str) -> Iterator[Row]:
    for name, recipe in builtin.built_in().items():
        bound = _likeness_bound(recipe.on("", ""))
        yield _row(f"proof = export, {where}: {name}", _proof_likeness(photo, name), bound, True)


def _size_rows(photos: list[Photo]) -> Iterator[Row]:
    for name in builtin.built_in():
        sheets = [(photo, sizes.as_recipe(photo, name)) for photo in photos]
        for edge in sizes.SIZES:
            pairs = [sizes.small_and_shrunk(photo, sheet, edge) for photo, sheet in sheets]
            photo, sheet = sheets[0]
            is_drawn = sizes.are_marks_drawn(sheet, photo, edge)
            bound = _likeness_bound(sheet) if is_drawn else None
            worst = min(_likeness(*pair) for pair in pairs)
            yield _row(f"export of {edge:,} px = a larger one shrunk: {name}", worst, bound, True)


def _likeness_bound(sheet: Sheet) -> float:
    return 0.92 if any(look_of(plate.draw).decides for plate in sheet.plates) else 0.97


def _half(photo: Photo) -> Photo:
    return Photo(averaged(photo.pixels, photo.width // 2, photo.height // 2), "half")


def _placed_rows(photo: Photo, where: str) -> Iterator[Row]:
    half = _half(photo)
    for name, look in LOOKS.items():
        bounds = {
            "upright, transformed": 0.97,
            "proof = export": 0.92 if look.decides else 0.97,
            "scale-free": 0.93,
        }
        for position, lain in placed.POSITIONS.items():
            for figure, likeness in placed.figures(photo, half, name, lain).items():
                title = f"{position}, {figure}, {where}: {name}"
                yield _row(title, likeness, bounds[figure], at_least=True)


def _half_likeness(photo: Photo, name: str) -> float:
    drawings = []
    sheet = sizes.as_recipe(photo, name)
    for source in (photo, _half(photo)):
        drawings.append(Press().proof(source, sheet, whole(sheet, source, 700)))
    return _likeness(*drawings)


def _line_rows(photo: Photo, where: str) -> Iterator[Row]:
    for name in ("ink-line", "outline"):
        left = faint.line_left(photo, name)
        title = f"line at 30 % contrast of that at full, {where}: {name}"
        yield _row(title, left, LINE_LEFT, at_least=True)
        sheet = sizes.as_recipe(photo, name)
        plate = sheet.plates[0].model_copy(update={"clean": Clean(specks=0.3)})
        frame = whole(sheet, photo, 2000)
        cover = Press().cover(photo, sheet, plate, frame, exact=True)
        found = line_figures(cover, frame)
        bound = 25.0 if name == "ink-line" else None
        yield _row(
            f"parts a 1,000 mm of line after Clean, {where}: {name}", found.parts_per_1000_mm, bound
        )
        drawn = Press().cover(photo, sheet, sheet.plates[0], frame, exact=True)
        specks = line_figures(drawn, frame).ink_in_specks
        yield _row(f"ink in parts under 0.1 mm², {where}: {name}", specks)


def _print_rows(photo: Photo, where: str) -> Iterator[Row]:
    for name, look in LOOKS.items():
        if not look.two_tone(look.settings()):
            continue
        sheet = sizes.as_recipe(photo, name)
        frame = region_frame(whole(sheet, photo, 6000), (0.35, 0.3, 0.65, 0.65))
        found = report(Press().cover(photo, sheet, sheet.plates[0], frame, exact=True), frame)
        yield _row(f"ink thinner than 0.1 mm, {where}: {name}", found.thin_ink, 0.02)
        yield _row(f"gaps narrower than 0.1 mm, {where}: {name}", found.narrow_paper, 0.02)


def _steadiness(photo: Photo) -> Iterator[Row]:
    for name, look in LOOKS.items():
        if not look.two_tone(look.settings()):
            continue
        sheet = sizes.as_recipe(photo, name)
        worst, dial_name = _worst_dial(photo, sheet)
        yield _row(f"steadiness, worst dial: {name} ({dial_name})", worst, STEADY_BOUND)


def _worst_dial(photo: Photo, sheet: Sheet) -> tuple[float, str]:
    press, plate, frame = Press(), sheet.plates[0], whole(sheet, photo, STEADY_AT)

    def inked(draw: Any) -> NDArray[np.bool_]:
        moved = plate.model_copy(update={"draw": draw})
        return np.asarray(press.cover(photo, sheet, moved, frame) >= 0.5)

    before = inked(plate.draw)
    worst, worst_name = 0.0, ""
    for dial in dials_of(type(plate.draw)):
        # A dial in whole steps cannot move by 1 % of its range.
        if dial.kind != "dial" or dial.step >= 1:
            continue
        way, value = (dial.high - dial.low) / 100, float(getattr(plate.draw, dial.name))
        there = value + way if value + way <= dial.maximum else value - way
        after = inked(plate.draw.model_copy(update={dial.name: there}))
        changed = float(np.mean(before != after))
        if changed > worst:
            worst, worst_name = changed, dial.name
    return worst, worst_name
