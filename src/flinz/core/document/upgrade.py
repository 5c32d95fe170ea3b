"""Documents of earlier versions as this one writes them: one step a version, from JSON to JSON."""

from typing import Any

from flinz.core.document.picture import LEAST_SHARE

# The formats whose versions are raised together.
UPGRADED = ("flinz-sheet", "flinz-recipe")

# A document as it was read from JSON.
Raw = dict[str, Any]


def upgraded(raw: Raw) -> Raw:
    """A sheet or recipe of any earlier version, as one of this version; it draws the same.

    What is not as its version says is left as it is, for reading to name.
    """
    if raw.get("version", 1) == 1:
        raw = _from_1(raw)
    return raw


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
