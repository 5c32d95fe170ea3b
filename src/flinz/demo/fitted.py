"""What was fitted to the demo's photos beforehand (tools/demo_fitted.py): a machine on which
nothing is compiled yet would take a minute for it, in which nobody sees the page.
"""

import json
from functools import cache
from importlib import resources
from typing import Any

from flinz.core.document.recipe import MadeOn
from flinz.core.document.sheet import Sheet

FILE = "fitted.json"


@cache
def _known() -> dict[str, Any]:
    found: dict[str, Any] = json.loads((resources.files("flinz.demo") / FILE).read_text())
    return found


def with_fitted(sheet: Sheet) -> Sheet:
    """A sheet of the demo with every dial that follows its photo where that has it."""
    values = _known()["sheets"].get(sheet.title, {})
    plates = []
    for plate in sheet.plates:
        for stage, dials in values.get(plate.id, {}).items():
            settings = getattr(plate, stage).model_copy(update=dials)
            plate = plate.model_copy(update={stage: settings})
        plates.append(plate)
    return sheet.model_copy(update={"plates": plates})


def poster_tones() -> MadeOn:
    """The tones of the photo of the fair poster."""
    return MadeOn.model_validate(_known()["poster"])


def told(before: Sheet, after: Sheet) -> dict[str, Any]:
    """What was fitted of a sheet: values of dials, by the plate and the stage."""
    found: dict[str, Any] = {}
    for plate, fitted in zip(before.plates, after.plates, strict=True):
        for path in plate.fitted:
            stage, _, name = path.partition(".")
            value = getattr(getattr(fitted, stage), name)
            found.setdefault(plate.id, {}).setdefault(stage, {})[name] = value
    return found
