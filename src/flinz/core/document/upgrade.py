"""Documents of earlier versions as this one writes them: one step a version, from JSON to JSON."""

from typing import Any

from flinz.core.document.picture import LEAST_SHARE

# The formats whose versions are raised together.
UPGRADED = ("flinz-sheet", "flinz-recipe")

# A document as it was read from JSON.
Raw = dict[str, Any]

# Dials of version 2 by another name, by look.
RENAMED = {
    "loose-hatch": {"spacing": "line_gap", "curviness": "swing", "variation": "unevenness"},
    "cut-paper": {"balance": "ink_share", "smoothing": "finest"},
}
# Where each dial of the mix of six hues lies on the ring, and how far it reached.
HUES = {"reds": 0, "yellows": 60, "greens": 120, "cyans": 180, "blues": 240, "magentas": 300}
HUE_REACH = 60


def upgraded(raw: Raw) -> Raw:
    """A sheet or recipe of any earlier version, as one of this version; it draws the same.

    What is not as its version says is left as it is, for reading to name.
    """
    if raw.get("version", 1) == 1:
        raw = _from_1(raw)
    if raw.get("version") == 2:
        raw = _from_2(raw)
    return raw


def by_new_names(stage: str, settings: Raw, name: str, value: float) -> Raw:
    """What a dial of version 2 set to a value comes to, for settings of a stage as they are now.

    Empty where there was no such dial.
    """
    before = {"look": settings["look"]} if "look" in settings else {}
    new: Raw = _plate_from_2({stage: {**before, name: value}})[stage]
    hues = new.get("hues", [] if name in HUES else None)
    if hues is not None:
        others = [each for each in settings["hues"] if each["hue"] != HUES[name]]
        return {"hues": [*others, *hues]}
    return {key: value for key, value in new.items() if key not in {"look", name}}


def _from_1(raw: Raw) -> Raw:
    """The paper had the picture's shape, which filled it; plates were drawn from the photo."""
    new = {**raw, "version": 2}
    paper = raw.get("paper")
    if isinstance(paper, dict) and "size" not in paper:
        new["paper"] = {"size": "as-picture", **paper}
    picture = {key: new.pop(key) for key in ("photo", "crop") if key in new}
    # A crop without width or height could be kept, not drawn.
    if "crop" in picture and not _has_size(picture["crop"]):
        del picture["crop"]
    if picture:
        new["picture"] = picture
    return new


def _has_size(crop: Any) -> bool:
    if not isinstance(crop, dict):
        return True
    sides = (
        (crop.get("left", 0.0), crop.get("right", 1.0)),
        (crop.get("top", 0.0), crop.get("bottom", 1.0)),
    )
    return all(
        high - low > LEAST_SHARE
        for low, high in sides
        if isinstance(low, int | float) and isinstance(high, int | float)
    )


def _from_2(raw: Raw) -> Raw:
    """Six dials moved hues, a photo had its tones once, and some dials were called otherwise."""
    new = {**raw, "version": 3}
    if isinstance(raw.get("plates"), list):
        new["plates"] = [
            _plate_from_2(plate) if isinstance(plate, dict) else plate for plate in raw["plates"]
        ]
    if isinstance(raw.get("made_on"), dict) and "photo" not in raw["made_on"]:
        new["made_on"] = {"photo": raw["made_on"]}
    return new


def _plate_from_2(raw: Raw) -> Raw:
    new = dict(raw)
    if isinstance(raw.get("tone"), dict):
        new["tone"] = _tone_from_2(raw["tone"])
    draw = raw.get("draw")
    if isinstance(draw, dict):
        new["draw"], names = _draw_from_2(draw)
        fitted = raw.get("fitted")
        if isinstance(fitted, list):
            new["fitted"] = [
                names.get(path, path) if isinstance(path, str) else path for path in fitted
            ]
    return new


def _tone_from_2(raw: Raw) -> Raw:
    new = {name: value for name, value in raw.items() if name not in HUES}
    mix = {name: raw[name] for name in HUES if raw.get(name)}
    if mix:
        new["hues"] = [
            {"hue": HUES[name], "pull": pull, "reach": HUE_REACH} for name, pull in mix.items()
        ]
    return new


def _draw_from_2(raw: Raw) -> tuple[Raw, dict[str, str]]:
    """The settings of a look, and its dials' new names by their old ones, as paths."""
    look = raw.get("look")
    renamed = RENAMED.get(look, {}) if isinstance(look, str) else {}
    new = {renamed.get(name, name): value for name, value in raw.items()}
    if look == "stipple" and isinstance(raw.get("roundness"), int | float):
        new["pen_wear"] = round(1 - new.pop("roundness"), 6)
    return new, {f"draw.{before}": f"draw.{after}" for before, after in renamed.items()}
