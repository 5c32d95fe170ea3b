"""What machines can print, what mends a sheet for them, and how it looks on a bad day."""

import numpy as np
import pytest

from flinz.core.document.setting import with_value
from flinz.core.document.sheet import Sheet
from flinz.core.judge.bad_day import BadDay, printed_badly
from flinz.core.judge.checks import checked
from flinz.core.judge.machines import MACHINES, machine_named
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.scale import region_frame
from flinz.core.stages.paper import AsPicture, OwnSize
from tests.charts import blobs, grey_photo, sheet_of

CLOTH = machine_named("screen-cloth")


@pytest.fixture(scope="module")
def photo():
    return grey_photo(blobs(360, 480, seed=6, scale=20) * 255)


@pytest.fixture(scope="module")
def press():
    return Press(400_000_000)


def sheet_in(look, **dials):
    return sheet_of(look, **dials).model_copy(update={"paper": AsPicture(long_edge=80)})


def kinds(press, photo, sheet, machine=CLOTH):
    return {each.kind: each for each in checked(press, photo, sheet, machine=machine)}


def mended(sheet, check) -> Sheet:
    if check.plate is not None:
        return sheet.with_plate(check.plate)
    return Sheet.model_validate(sheet.model_dump() | {"paper": check.paper})


def test_every_machine_has_a_name_of_its_own_and_room_to_hold():
    assert len({each.name for each in MACHINES}) == len(MACHINES)
    assert all(0 < each.coarsest < each.finest and each.inks > 0 for each in MACHINES)
    assert machine_named("steam") is None


def test_bold_shapes_stand_in_no_ones_way(press, photo):
    sheet = with_value(sheet_in("cut-paper"), "clean.smooth", "1.2", 0)

    assert kinds(press, photo, sheet) == {}


@pytest.mark.parametrize(
    "look, dials, kind",
    [
        ("outline", {"width": 0.15}, "thin"),
        ("dot-screen", {"ruling": 30.0}, "ruling"),
        ("dot-screen", {"ruling": 3.0}, "ruling"),
        ("pencil", {}, "greys"),
        ("threshold", {}, "specks"),
    ],
)
def test_a_mend_clears_its_check(look, dials, kind, press, photo):
    rough = grey_photo(np.random.default_rng(2).uniform(0, 255, (240, 320)), "rough")
    of = rough if kind == "specks" else photo
    sheet = sheet_in(look, **{k: v for k, v in dials.items() if has_dial(look, k)})
    if kind == "thin":
        sheet = with_value(sheet, "draw.nib", "0.15", 0) if has_dial(look, "nib") else sheet
    found = kinds(press, of, sheet)
    assert kind in found and found[kind].mend and found[kind].plate is not None
    if kind in ("thin", "specks"):
        assert found[kind].spots

    after = kinds(press, of, mended(sheet, found[kind]))

    assert kind not in after


@pytest.mark.parametrize(
    "look, machine",
    [(look, "laser") for look in ("photocopy", "woodcut", "threshold")]
    + [(look, "shed-press") for look in ("photocopy", "woodcut", "stipple", "ink-line")],
)
def test_no_mend_is_told_that_leaves_what_it_is_for(look, machine, press):
    values = blobs(200, 260, seed=8, scale=12) * 255
    values += np.random.default_rng(4).normal(0, 40, values.shape)
    photo = grey_photo(np.clip(values, 0, 255), "noisy")
    sheet = with_value(sheet_in(look), "clean.arrives", "0.9", 0)
    found = kinds(press, photo, sheet, machine_named(machine))
    mends = {kind: check for kind, check in found.items() if check.mend}

    assert mends
    for kind, check in mends.items():
        left = press.proof(photo, mended(sheet, check), whole(sheet, photo, 400))
        assert 0.03 < left.mean() < 0.97
        after = kinds(press, photo, mended(sheet, check), machine_named(machine))
        assert kind not in after
        if kind == "narrow" and "thin" not in found:
            assert "thin" not in after


def test_ink_that_was_softened_has_greys(press, photo):
    sheet = with_value(sheet_in("threshold"), "clean.soften", "2", 0)
    found = kinds(press, photo, sheet)["greys"]

    assert found.stage == "clean"
    assert "greys" not in kinds(press, photo, mended(sheet, found))
    assert "greys" not in kinds(press, photo, with_value(sheet, "clean.soften", "0.05", 0))
    both = with_value(sheet_in("pencil"), "clean.soften", "2", 0)
    assert kinds(press, photo, both)["greys"].plate is None


def test_what_wipes_a_drawing_out_is_no_mend(press):
    light = grey_photo(np.full((120, 160), 225), "light")
    dots = sheet_in("stipple", dot=0.2)

    def mend(thinnest):
        coarse = CLOTH.model_copy(update={"thinnest": thinnest})
        return kinds(press, light, dots, coarse)["specks"]

    assert mend(3.0).mend == "" and "larger" in mend(3.0).sentence
    assert "Thicken" in mend(0.25).mend


def test_what_nothing_clears_has_no_mend(press, photo):
    # As thick as it can get, and of lines still.
    sheet = with_value(sheet_in("outline"), "clean.thicken", "3", 0)
    huge = CLOTH.model_copy(update={"thinnest": 40.0, "narrowest": 0.1})

    found = kinds(press, photo, sheet, huge)["thin"]

    assert found.mend == "" and found.plate is None


def has_dial(look, name):
    return name in type(sheet_of(look).plates[0].draw).model_fields


def test_a_sheet_that_is_too_large_is_made_to_fit(press, photo):
    sheet = sheet_in("cut-paper").model_copy(update={"paper": AsPicture(long_edge=900)})
    found = kinds(press, photo, sheet)["size"]

    assert "size" not in kinds(press, photo, mended(sheet, found))
    own = sheet.model_copy(update={"paper": OwnSize(width=300, height=900)})
    assert kinds(press, photo, own)["size"].mend == ""


def test_more_inks_than_it_has_are_told(press, photo):
    sheet = sheet_in("cut-paper")
    plates = [
        plate.model_copy(
            update={"id": f"p{k}", "ink": plate.ink.model_copy(update={"colour": f"#0000{k}0"})}
        )
        for k in range(1, 3)
        for plate in sheet.plates
    ]
    two = sheet.model_copy(update={"plates": plates})

    assert (
        "2 inks; this prints 1" in kinds(press, photo, two, machine_named("laser"))["inks"].sentence
    )
    assert "inks" not in kinds(press, photo, two, CLOTH)


def test_a_photo_that_is_too_small_is_told(press, photo):
    sheet = sheet_in("cut-paper").model_copy(update={"paper": AsPicture(long_edge=300)})

    assert "41 dots an inch" in kinds(press, photo, sheet)["photo"].sentence


def test_a_good_day_is_the_proof(press, photo):
    sheet = sheet_in("cut-paper")
    frame = whole(sheet, photo, 600)

    good = printed_badly(press, photo, sheet, frame, BadDay(gain=0, slip=0, uneven=0))

    assert np.abs(good - press.proof(photo, sheet, frame)).max() < 1e-3


def test_ink_that_spreads_covers_more_and_uneven_ink_less(press, photo):
    sheet = sheet_in("cut-paper")
    frame = whole(sheet, photo, 600)

    def ink(**day):
        plain = {"gain": 0.0, "slip": 0.0, "uneven": 0.0}
        return 1 - printed_badly(press, photo, sheet, frame, BadDay(**(plain | day))).mean()

    assert ink(gain=0.4) > ink() > ink(uneven=0.5) > 0


def test_the_first_plate_stays_and_others_slip_no_farther_than_asked(press, photo):
    sheet = sheet_in("cut-paper")
    second = sheet.plates[0].model_copy(update={"id": "two"})
    second = second.model_copy(update={"ink": second.ink.model_copy(update={"colour": "#ff0000"})})
    both = sheet.model_copy(update={"plates": [sheet.plates[0], second]})
    frame = whole(both, photo, 800)

    bad = printed_badly(press, photo, both, frame, BadDay(gain=0, slip=2.0, uneven=0, seed=3))

    good = press.proof(photo, both, frame)
    assert np.abs(bad - good).mean() > 0.005
    # What is black stays: red ink changes only the paper beside it.
    assert (bad[good[..., 0] < 0.02] < 0.05).all()


def test_a_bad_day_is_the_same_every_time_and_in_every_part(press, photo):
    sheet, day = sheet_in("cut-paper"), BadDay(seed=5)
    frame = whole(sheet, photo, 700)
    region = region_frame(frame, (0.3, 0.2, 0.8, 0.7))

    all_of_it = printed_badly(press, photo, sheet, frame, day)

    assert np.array_equal(all_of_it, printed_badly(Press(), photo, sheet, frame, day))
    part = printed_badly(press, photo, sheet, region, day)
    assert np.abs(part - all_of_it[region.slices_in(frame)]).mean() < 0.01
    other = printed_badly(press, photo, sheet, frame, BadDay(seed=6))
    assert np.abs(other - all_of_it).mean() > 0.01


def test_halves_are_the_good_print_and_the_bad_one(press, photo):
    sheet = sheet_in("cut-paper")
    frame = whole(sheet, photo, 600)

    both = printed_badly(press, photo, sheet, frame, BadDay(half=True))

    good = press.proof(photo, sheet, frame)
    assert np.array_equal(both[:, :300], good[:, :300])
    assert np.abs(both[:, 300:] - good[:, 300:]).mean() > 0.005
