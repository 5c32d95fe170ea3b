"""Files whose ink covers show what shows through: by paths painted again, or as a picture."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.deliver import covering
from flinz.core.deliver.artwork import Artwork, Item, Layer
from flinz.core.deliver.covering import Painted, Pictured
from flinz.core.document.sheet import Sheet
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.stages.blend import Blend, blended
from flinz.core.stages.ink import Ink, rgb_of
from flinz.core.stages.paper import AsPicture
from flinz.core.trace.tracing import Tracing, straight_ring
from tests.charts import blobs, delivered, grey_photo, read_back, sheet_of

EDGE_PX = 480
PHOTO = grey_photo(blobs(90, 120, seed=5) * 255)
PRESS = Press(300_000_000)
COLOURS = ["#c83232", "#3264c8", "#e6c828", "#28a05a"]


def sheet_in(*plates: tuple[str, dict], paper="#f2ead8") -> Sheet:
    """A sheet of looks and inks, printed one over the other."""
    made = [
        sheet_of(look, **({"level": 0.3 + 0.15 * number} if look == "threshold" else {})).plates[0]
        for number, (look, _) in enumerate(plates)
    ]
    inked = [
        plate.model_copy(update={"id": f"p{number}", "name": f"Ink {number}", "ink": Ink(**ink)})
        for number, (plate, (_, ink)) in enumerate(zip(made, plates, strict=True))
    ]
    return Sheet(paper=AsPicture(long_edge=60.0, colour=paper), plates=inked)


def off(folder, sheet: Sheet, kind: str = "eps") -> float:
    """How far a file is from the export, of 255, on average."""
    file = delivered(folder, PRESS, PHOTO, sheet, kind)
    frame = whole(sheet, PHOTO, EDGE_PX)
    export = np.rint(PRESS.proof(PHOTO, sheet, frame, exact=True) * 255)
    export = export if export.ndim == 3 else np.repeat(export[..., None], 3, 2)
    shown = read_back(file, EDGE_PX).convert("RGB").resize(export.shape[1::-1])
    return float(np.abs(np.asarray(shown, float) - export).mean())


@pytest.mark.parametrize("blend", list(Blend))
def test_two_inks_meet_by_every_mode(blend, tmp_path):
    sheet = sheet_in(
        ("threshold", {"colour": "#c83232"}),
        ("threshold", {"colour": "#3264c8", "blend": blend, "opacity": 0.6, "times": 3}),
    )

    assert off(tmp_path, sheet) < 0.6


def test_three_inks_show_through_each_other(tmp_path):
    plates = [("threshold", {"colour": colour}) for colour in COLOURS[:3]]
    sheet = sheet_in(*plates, ("threshold", {"colour": "#000000"}))

    assert off(tmp_path, sheet) < 2


@pytest.mark.parametrize("look", ["stipple", "crosshatch", "outline"])
def test_marks_show_through_shapes_and_shapes_through_marks(look, tmp_path):
    red, blue = {"colour": "#c83232"}, {"colour": "#3264c8"}
    over = sheet_in(("threshold", red), (look, blue))
    screened = sheet_in(("threshold", red), (look, blue | {"blend": "screen"}))

    assert off(tmp_path, over) < 3
    assert off(tmp_path, screened) < 3


@pytest.mark.parametrize("blend", ["multiply", "normal", "screen"])
def test_greys_over_shapes_hide_no_more_than_they_print(blend, tmp_path):
    sheet = sheet_in(
        ("threshold", {"colour": "#c83232"}),
        ("pencil", {"colour": "#183058", "blend": blend}),
        ("outline", {"colour": "#000000"}),
    )

    assert off(tmp_path, sheet) < 3


def test_what_comes_to_too_many_paths_is_a_picture_and_what_hides_stays_shapes(
    tmp_path, monkeypatch
):
    monkeypatch.setattr(covering, "MOST_POINTS", 100)
    plates = [("threshold", {"colour": colour}) for colour in COLOURS[:2]]
    sheet = sheet_in(*plates, ("outline", {"colour": "#000000"}))

    assert off(tmp_path, sheet) < 3
    text = (tmp_path / "file.eps").read_text()
    assert text.count("colorimage") == 1
    assert "% Ink 0, Ink 1\n" in text and "% Ink 2\n" in text


def square(left: float, top: float, side: float) -> Tracing:
    """A square as a shape, mm."""
    return straight_ring(np.array([[0, 0], [1, 0], [1, 1], [0, 1]], float) * side + (left, top))


def at(place: tuple[float, float], artwork: Artwork) -> np.ndarray:
    """The colour at a place of what covering paints of squares, worked out one by one."""

    def within(item: Item) -> bool:
        low, high = item.content.bounds
        return bool((low <= place).all() and (place <= high).all())

    def painted(parts, colour):
        for each in parts:
            assert not isinstance(each, Pictured)
            if within(each.item):
                colour = each.colour if isinstance(each, Painted) else painted(each.painted, colour)
        return colour

    return np.array(painted((each for _, each in covering.covering(artwork)), artwork.paper))


@given(
    squares=st.lists(
        st.tuples(
            st.sampled_from([*COLOURS, "#000000", "#ffffff"]),
            st.sampled_from(["multiply", "normal", "screen", "difference", "overlay"]),
            st.sampled_from([1.0, 0.6]),
            st.integers(0, 5),
            st.integers(0, 5),
        ),
        min_size=1,
        max_size=5,
    ),
    x=st.integers(0, 9),
    y=st.integers(0, 9),
)
def test_what_covers_comes_to_what_meets(squares, x, y):
    layers = []
    place, met = np.array([x + 0.5, y + 0.5]), np.array([0.9, 0.8, 0.6], np.float32)
    for number, (colour, blend, opacity, left, top) in enumerate(squares):
        rgb = rgb_of(colour)
        item = Item(square(left, top, 5), tuple(float(value) for value in rgb))
        layers.append(Layer(f"p{number}", f"{number}", item.colour, [item], Blend(blend), opacity))
        if left <= place[0] <= left + 5 and top <= place[1] <= top + 5:
            met = met + opacity * (blended(met[None, None], rgb[None, None], Blend(blend)) - met)
            met = met[0, 0]
    artwork = Artwork(10, 10, (0.9, 0.8, 0.6), layers)

    assert at(place, artwork) == pytest.approx(met, abs=2e-3)
