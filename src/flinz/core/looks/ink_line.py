"""Ink line: connected lines of a chosen nib along the edges that matter, with solid blacks."""

import math
from functools import cache
from typing import Any, Literal

import cv2
import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.dial import Dial, Switch
from flinz.core.looks.desk import Desk, bare_desk
from flinz.core.looks.look import Look, LookSettings, Suits
from flinz.core.looks.suiting import judged_at, tone_range
from flinz.core.marks import joining
from flinz.core.marks.pen import strokes_cover
from flinz.core.marks.vectors import Strokes
from flinz.core.marks.vectors import joined as joined_strokes
from flinz.core.planes import curved, flow
from flinz.core.planes.filters import Plane, blurred, eased
from flinz.core.planes.lattice import coarser, resampled
from flinz.core.scale import Frame, whole_frame
from flinz.core.shapes.hanging import hanging

# A line drawn by a difference of Gaussians is about this many sigmas wide.
NIB_SIGMAS = 2.6
WIDE = 1.6
BLACKEST_LEVEL = 0.52
FED_BACK, FED_BACK_FAINT = 0.7, 64.0
# Of the faintest: over what range about it first lines come to be fed back whole.
FEEDS = 0.9
# A line goes on through what is this share as dark as it must be to begin.
CONTINUES = 0.45
# From this hardness on edges are as hard as pixels allow.
CRISP = 0.8
# Edges this hard make a two-tone drawing.
HARD = 0.6
# Where lines may be is told from a grid on which a nib is this wide.
SEARCH_PX_PER_NIB = 1.4
SEARCH_STEP = 1.5
SEAM = 0.26
# Of the shortest line, and in mm: less than this is not worth joining to others.
SCRAP, SCRAP_MM = 0.35, 2.1
JOINS = 0.5
RIM = np.ones((5, 5), np.uint8)
# How much darker a line must be than what lies beside it, by detail: least, range and power.
FAINTEST, FAINTNESS, FALLS = 0.0008, 0.0522, 1.782
# Suggested, as shares of the photo's range of tone: the faintest line where there are many, and
# where there are few; of what is clearest, below which all lines would be as broad as they can be.
MOST, HARDLY, OF_CLEAREST, CLEAREST = 0.012, 0.0037, 0.14, 0.9
# In how many steps from one to the other the lines come to cover this share of the sheet.
SUGGESTED, ROOM = 9, 0.095


class InkLine(LookSettings):
    """Pen lines that swell and thin, and shadows filled with ink."""

    look: Literal["ink-line"] = "ink-line"
    nib: float = Dial(
        0.35,
        ge=0.05,
        le=4.0,
        low=0.1,
        high=1.5,
        step=0.01,
        unit="mm",
        label="Nib",
        hint="Width of the lines",
    )
    detail: float = Dial(
        0.6,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Detail",
        hint="How faint an edge may be to be drawn",
    )
    flow: float = Dial(
        2.0,
        ge=0.1,
        le=15.0,
        low=0.2,
        high=8.0,
        step=0.1,
        unit="mm",
        label="Flow",
        hint="How far lines run on along the form",
    )
    blacks: float = Dial(
        0.3,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Solid blacks",
        hint="From lines only to whole shadows filled",
    )
    hardness: float = Dial(
        0.85,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Edge hardness",
        hint="From a soft brush to a hard pen",
    )
    shortest: float = Dial(
        6.0,
        ge=0.0,
        le=60.0,
        high=20.0,
        step=0.5,
        unit="mm",
        label="Shortest",
        hint="Lines shorter than this are left out",
    )
    again: bool = Switch(True, label="Second pass", hint="Closes gaps in the lines")


def draw(tone: Plane, settings: InkLine, frame: Frame, desk: Desk) -> Plane:
    """Lines as ink 0..1.

    A difference of Gaussians, averaged along the edge flow, and a soft threshold: H. Kang,
    S. Lee and C. Chui (2007) and H. Winnemöller, J. Kyprianidis and S. Olsen (2012). Lines and
    blacks have a threshold each here, so that either can be turned without the other. The
    second pass draws from the photo with the first pass's lines laid over it.
    """
    nib, faintest = settings.nib, _faintest(settings)
    dark_side, drawn_with = _dark_side(tone, settings, frame, desk)
    shade = desk.keep("shade", nib, lambda: blurred(tone, frame.px(0.6 * nib)))
    level = np.float32(settings.blacks * BLACKEST_LEVEL if settings.blacks > 0 else -1.0)
    joined = settings.again and settings.hardness >= HARD
    linked, shade, joints = desk.keep(
        "linked",
        (*drawn_with, level, joined, settings.shortest),
        lambda: _linked(dark_side, shade, faintest, level, settings, frame, joined),
    )
    # Below full hardness an edge goes from paper to ink over a range of tone.
    soft = np.float32(max(0.0, CRISP - settings.hardness) / CRISP)
    inked = _crisp(linked, shade, faintest, level, 2 * faintest * soft, np.float32(0.25) * soft)
    return np.asarray(np.maximum(inked, strokes_cover(joints, frame)) if len(joints) else inked)


def _dark_side(
    tone: Plane, settings: InkLine, frame: Frame, desk: Desk
) -> tuple[Plane, tuple[Any, ...]]:
    """How much darker each place is than its surroundings, along the form, after both passes;
    and the values it was made with.
    """
    nib, run, faintest = settings.nib, settings.flow, _faintest(settings)
    # Steps as long as a line is wide: along it nothing changes faster. A draft takes half as many.
    step = max(min(nib, run / 6), run / curved.MOST_SAMPLES)
    step *= 2 if desk.draft else 1
    finest = flow.FIELD_PX_PER_MM
    if desk.draft:
        finest = min(finest, flow.DRAFT_CELLS * frame.px_per_mm)
    form = desk.keep("form", (nib, finest), lambda: form_of(tone, frame, nib, finest))
    along = desk.keep("curves", (nib, run, step), lambda: curved.curves(form, run / 2, step))
    darker = cache(lambda: _darker(tone, frame, nib))
    # Softer edges show more of what is too faint for a line. In steps, so that a dial being
    # dragged keeps the first pass.
    wanted = float(faintest) * (0.4 if settings.hardness >= HARD else 0.1)
    searched = np.float32(SEARCH_STEP ** math.floor(math.log(wanted, SEARCH_STEP)))
    where = desk.keep(
        "where",
        (nib, run, step, searched),
        lambda: _searched(darker(), frame, along, nib, searched),
    )
    first_with = (nib, run, step, None if where is None else searched)
    first = desk.keep("first", first_with, lambda: _averaged(darker(), frame, along, nib, where))
    if not settings.again:
        return first, (*first_with, settings.detail)

    def second() -> Plane:
        # Among faint edges a line fed back whole would hide all others.
        share = min(FED_BACK, FED_BACK_FAINT * float(faintest))
        low, high = (np.float32(float(faintest) * at) for at in (1 - FEEDS, 1 + FEEDS))
        fed = _darker(_laid_over(tone, first, low, high, np.float32(share)), frame, nib)
        # What a first line darkens lies beside it.
        beside = cv2.dilate(first, np.ones((3, 3), np.uint8)) > searched
        return _averaged(fed, frame, along, nib, beside)

    both_with = (*first_with, searched, settings.detail)
    return desk.keep("second", both_with, second), both_with


def _linked(
    dark_side: Plane,
    shade: Plane,
    faintest: np.float32,
    level: np.float32,
    settings: InkLine,
    frame: Frame,
    joined: bool,
) -> tuple[Plane, Plane, Strokes]:
    """dark_side with faint stretches raised that join clear ones, both it and shade without
    scraps, and the strokes that close gaps (none where not joined).

    What is fainter than a line should be counts if it hangs together with enough of what is
    not: hysteresis, after J. Canny (1986). Blacks hang together with lines. Scraps are not worth
    joining; what is joined counts as one.
    """
    low = np.float32(CONTINUES * faintest)
    drawn = (dark_side > low) | (shade < level)
    clear = (dark_side > faintest) | (shade < level)
    least_px = max(1.0, frame.area_px(settings.nib * settings.shortest))
    nib_px = frame.px(settings.nib)
    scrap_px = min(SCRAP * least_px, frame.px(SCRAP_MM) * nib_px)
    kept = hanging(drawn, clear, scrap_px if joined else least_px, nib_px)
    joints = joined_strokes([])
    if joined:
        joints = joining.joints(kept.astype(np.float32), frame, settings.nib)
        closed = kept | (strokes_cover(joints, frame) >= JOINS)
        whole = hanging(closed, clear, least_px, nib_px)
        joints = joining.standing(joints, whole, frame)
        kept &= whole
    dropped = drawn & ~kept
    # The soft rim of what is left out goes with it.
    near = cv2.dilate(dropped.view(np.uint8), RIM).view(np.bool_)
    raised, left = _raised(dark_side, shade, kept, near, faintest - low)
    return raised, left, joints


@njit(parallel=True, cache=True)
def _laid_over(tone, dark_side, low, high, share) -> Any:  # type: ignore[no-untyped-def]
    # The tone with lines over it, which come smoothly from low to high of dark_side.
    one = np.float32(1.0)
    out = np.empty_like(tone)
    for row in prange(tone.shape[0]):
        for column in range(tone.shape[1]):
            line = eased((dark_side[row, column] - low) / (high - low))
            out[row, column] = tone[row, column] * (one - share * line)
    return out


@njit(parallel=True, cache=True)
def _raised(dark_side, shade, kept, near, lift) -> Any:  # type: ignore[no-untyped-def]
    # Both without what is not kept, near which they are paper.
    out, left = np.empty_like(dark_side), shade.copy()
    for row in prange(kept.shape[0]):
        for column in range(kept.shape[1]):
            value = dark_side[row, column] + lift
            if kept[row, column]:
                out[row, column] = value
            elif near[row, column]:
                out[row, column] = np.float32(0.0)
                left[row, column] = np.float32(1.0)
            else:
                # Just outside a line the slope goes on as it was, for the sake of its edge.
                out[row, column] = min(value, np.float32(0.999) * lift)
    return out, left


def _faintest(settings: InkLine) -> np.float32:
    return np.float32(FAINTEST + FAINTNESS * (1 - settings.detail) ** FALLS)


def suggested(tone: Plane, frame: Frame) -> dict[str, float]:
    """The detail with which there is as much line as a pen drawing has, and the shortest line:
    fainter ones must be longer.

    All in shares of the photo's range of tone, so that a pale photo has the lines of a strong one.
    """
    frame = judged_at(frame)
    usual = InkLine(again=False, detail=1.0)
    dark_side, _ = _dark_side(tone, usual, frame, bare_desk(tone, frame))
    darkest, lightest = tone_range(tone)
    most, fewest = ((lightest - darkest) * share for share in (MOST, HARDLY))
    lines = dark_side[dark_side > fewest]
    if lines.size:
        fewest = min(most, max(fewest, OF_CLEAREST * float(np.quantile(lines, CLEAREST))))
    least_px = frame.area_px(usual.nib * usual.shortest)
    faintest = max(most, 1e-4)
    for level in np.geomspace(faintest, max(fewest, 1e-4), SUGGESTED):
        drawn, clear = dark_side > np.float32(CONTINUES * level), dark_side > np.float32(level)
        inked = hanging(drawn, clear, least_px, frame.px(usual.nib))
        if inked.mean() > ROOM:
            break
        faintest = float(level)
    shortest = usual.shortest * max(1.0, most / faintest)
    return {"detail": round(_detail(faintest), 2), "shortest": round(2 * shortest) / 2}


def _detail(faintest: float) -> float:
    """The detail at which what is as dark as faintest is just drawn."""
    share = max(0.0, faintest - FAINTEST) / FAINTNESS
    return max(0.0, 1 - math.pow(share, 1 / FALLS))


def form_of(
    tone: Plane, frame: Frame, nib_mm: float, px_per_mm: float = flow.FIELD_PX_PER_MM
) -> flow.Field:
    """The direction of the edges, as broad as a nib needs."""
    tensor = flow.form_tensor(tone, frame, max(0.5, 1.6 * nib_mm), px_per_mm)
    return flow.directed(tensor, 0.0, 2e-5)


def _darker(tone: Plane, frame: Frame, nib_mm: float) -> Plane:
    """How much darker a place is than what lies a nib round it."""
    sigma = frame.px(nib_mm / NIB_SIGMAS)
    return np.asarray(cv2.subtract(blurred(tone, WIDE * sigma), blurred(tone, sigma)), np.float32)


def _searched(
    darker: Plane, frame: Frame, along: curved.Curves, nib_mm: float, faintest: np.float32
) -> NDArray[np.bool_] | None:
    """Where the mean along the form may be more than faintest, told on a coarser grid; None for
    everywhere.
    """
    small, grid = coarser(darker, frame, SEARCH_PX_PER_NIB / nib_mm)
    if grid == frame:
        return None
    seen = curved.traced(small, grid, along, every=2)
    found = cv2.dilate(seen, np.ones((3, 3), np.uint8))
    return resampled(np.asarray(found, np.float32), grid, frame) > faintest


def _averaged(
    darker: Plane,
    frame: Frame,
    along: curved.Curves,
    nib_mm: float,
    where: NDArray[np.bool_] | None,
) -> Plane:
    """How much darker a place is than its surroundings across the form, averaged along it."""
    drawn = curved.traced(darker, frame, along, where)
    # Neighbouring cells of the form have curves of their own; this takes the seams away.
    return blurred(drawn, frame.px(nib_mm * SEAM))


@njit(parallel=True, fastmath=True, cache=True)
def _crisp(  # type: ignore[no-untyped-def]
    linked, shade, faintest, level, line_soft, black_soft
) -> Any:
    # Lines and blacks with edges a pixel wide, by gap over slope, or softer.
    height, width = linked.shape
    out = np.empty_like(linked)
    for row in prange(height):
        above, below = max(row - 1, 0), min(row + 1, height - 1)
        for column in range(width):
            left, right = max(column - 1, 0), min(column + 1, width - 1)
            line = _share(
                linked[row, column] - faintest,
                linked[row, left] - faintest,
                linked[row, right] - faintest,
                linked[above, column] - faintest,
                linked[below, column] - faintest,
                line_soft,
            )
            black = np.float32(0.0)
            if level > 0:
                black = _share(
                    level - shade[row, column],
                    level - shade[row, left],
                    level - shade[row, right],
                    level - shade[above, column],
                    level - shade[below, column],
                    black_soft,
                )
            out[row, column] = max(line, black)
    return out


@njit(inline="always")
def _share(over, left, right, above, below, soft) -> Any:  # type: ignore[no-untyped-def]
    # How much of a pixel is ink, by how far it and its neighbours are over a threshold.
    half, zero, one = np.float32(0.5), np.float32(0.0), np.float32(1.0)
    # No edge passes where all are under it, however steep the slope.
    if soft <= 0 and max(max(over, max(left, right)), max(above, below)) < 0:
        return zero
    dx, dy = half * (right - left), half * (below - above)
    slope = max(np.sqrt(dx * dx + dy * dy), max(soft, np.float32(1e-6)))
    return min(max(half + over / slope, zero), one)


def reach_mm(settings: InkLine) -> float:
    """The form and twice the flow."""
    passes = 2 if settings.again else 1
    form = 4 * max(0.5, 1.6 * settings.nib)
    joints = 2 * joining.GAP_NIBS * settings.nib
    # A line may be judged by what lies a few times its least length away.
    return form + passes * (settings.flow + 3 * settings.nib) + joints + 1.5 * settings.shortest


def made_ready() -> None:
    """Join a line with a gap and see that a ring is one, which a tiny picture does not lead to."""
    broken = np.zeros((48, 64), np.float32)
    broken[20:24, 8:28] = broken[20:24, 31:56] = 1
    joining.joints(broken, whole_frame(16.0, 64, 48), 1.0)
    hanging(broken > 0, broken > 0, float(broken.size), 1.0)


LOOK = Look(
    settings=InkLine,
    label="Ink line",
    purpose="Pen lines along the edges that matter, with shadows filled",
    draw=draw,
    reach_mm=reach_mm,
    suggested=suggested,
    fitted=("draw.detail", "draw.shortest"),
    two_tone=lambda settings: settings.hardness >= HARD,
    proof_factor=2,
    suits=Suits(parted=(0.6, 0.3), fine=(0.8, 0.8), led=(0.9, 1), spread=(0.9, 0.6)),
    decides=True,
    gaussians=60,
    made_ready=made_ready,
    thinnest=lambda settings: settings.nib,
)
