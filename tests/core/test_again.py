import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.document.again import Again
from flinz.core.document.plate import Plate
from flinz.core.document.reading import parsed
from flinz.core.document.sheet import Sheet
from flinz.core.press.keys import content_key
from flinz.core.stages.tone import Tone
from flinz.errors import DocumentError

SHEET = Sheet(plates=[Plate(id="a"), Plate(id="b")])


def raw_of(sheet: Sheet):
    return json.loads(sheet.model_dump_json())


def turned(sheet: Sheet, plate: str, contrast: float) -> Sheet:
    tone = Tone(contrast=contrast)
    return sheet.with_plate(sheet.plate(plate).model_copy(update={"tone": tone}))


def with_plates(sheet: Sheet, plates) -> Sheet:
    return sheet.model_copy(update={"plates": plates})


@st.composite
def raws(draw):
    """Sheets as a page says them, each a change of the one before."""
    raw, found = raw_of(SHEET), []
    for _ in range(draw(st.integers(1, 5))):
        raw = json.loads(json.dumps(raw))
        plates = raw["plates"]
        plate = draw(st.sampled_from(plates))
        match draw(st.sampled_from(["turn", "name", "follow", "go", "come", "swap", "title"])):
            case "turn":
                plate["tone"]["contrast"] = draw(st.sampled_from([0.5, 1.0, 1]))
            case "name":
                plate["name"] = draw(st.sampled_from(["", "sky"]))
            case "follow":
                others = [each["id"] for each in plates if each is not plate]
                plate["follows"] = draw(st.sampled_from(["", *others]))
            case "go" if len(plates) > 1:
                plates.remove(plate)
            case "come":
                plates.append(raw_of(SHEET)["plates"][0] | {"id": f"new-{len(found)}"})
            case "swap":
                plates.reverse()
            case "title":
                raw["title"] = draw(st.sampled_from(["one", "two"]))
        found.append(raw)
    return found


@given(raws())
def test_a_sheet_read_again_says_what_it_would_alone(found):
    again = Again()
    for raw in found:
        before = json.dumps(raw)
        try:
            alone = parsed(Sheet, raw)
        except DocumentError as error:
            # Two that follow each other.
            with pytest.raises(DocumentError, match=str(error)[:20]):
                again.read(raw)
            continue
        assert again.read(raw) == alone
        assert json.dumps(raw) == before


def test_what_is_left_as_it_was_is_the_same_object():
    again = Again()
    first = again.read(raw_of(SHEET))

    second = again.read(raw_of(turned(SHEET, "a", 0.5)))

    assert second.plate("b") is first.plate("b")
    assert second.plate("a").tone.contrast == 0.5
    assert second.plate("a").draw is first.plate("a").draw
    assert second.picture is first.picture


def test_a_plate_whose_leader_goes_is_what_it_says_itself():
    led = with_plates(SHEET, [Plate(id="a"), Plate(id="b", follows="a")])
    again = Again()
    assert again.read(raw_of(turned(led, "a", 0.5))).plate("b").tone.contrast == 0.5

    alone = again.read(raw_of(with_plates(led, [led.plate("b")])))

    assert alone.plate("b").tone.contrast == 0


@pytest.mark.parametrize("wrong", [{"plates": 7}, {"plates": [{"id": ["a"]}]}, {"version": 99}, {}])
def test_what_is_refused_leaves_what_was_read(wrong):
    again = Again()
    first = again.read(raw_of(SHEET))
    if wrong:
        with pytest.raises(DocumentError):
            again.read(raw_of(SHEET) | wrong)
    else:
        assert again.read(wrong) == Sheet()
        first = again.read(raw_of(SHEET))

    assert again.read(raw_of(SHEET)).plate("a") is first.plate("a")


def test_a_copy_has_a_key_of_its_own():
    tone = Tone()
    before = content_key(tone)

    changed = tone.model_copy(update={"contrast": 0.5})

    assert content_key(changed) == content_key(Tone(contrast=0.5)) != before
    assert content_key(changed.model_copy(update={"contrast": 0.0})) == before
    assert tone == Tone()
