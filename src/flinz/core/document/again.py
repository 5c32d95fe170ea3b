"""One sheet read again and again while a hand turns it: what was left is the same object."""

from typing import Any

from flinz.core.dial import Settings
from flinz.core.document.reading import parsed
from flinz.core.document.sheet import Sheet

Raw = dict[str, Any]


class Again:
    """Reads sheets, each in place of the one before.

    A plate that was not touched, or a stage of one that was, is the object that it was: checked
    already, with what was worked out about it. Not for several threads.
    """

    def __init__(self) -> None:
        self._raw: Raw = {}
        self._sheet = Sheet()

    def read(self, raw: Raw) -> Sheet:
        """A sheet from a dictionary, which is left as it is. Raises DocumentError."""
        sheet = parsed(Sheet, self._with_known(raw))
        self._raw, self._sheet = raw, sheet
        return sheet

    def _with_known(self, raw: Raw) -> Raw:
        """A sheet's dictionary in which what is known stands for itself."""
        was, plates, were = self._raw, raw.get("plates"), self._raw.get("plates")
        is_alike = raw.get("version") == self._sheet.version == was.get("version")
        if not (is_alike and isinstance(plates, list) and isinstance(were, list)):
            return raw
        known = {
            plate.id: (each, plate)
            for each, plate in zip(were, self._sheet.plates, strict=True)
            # What follows another is more than it says.
            if not plate.follows
        }

        def again(plate: Any) -> Any:
            name = plate.get("id") if isinstance(plate, dict) else None
            if not isinstance(name, str) or name not in known:
                return plate
            before, found = known[name]
            return found if plate == before else _known_in(plate, before, found)

        return _known_in(raw, was, self._sheet) | {"plates": [again(plate) for plate in plates]}


def _known_in(raw: Raw, was: Raw, known: Settings) -> Raw:
    """A dictionary with the parts of a model in place of what they were read from."""
    alike = [name for name in raw if name in was and raw[name] == was[name]]
    parts = {name: getattr(known, name) for name in alike}
    return raw | {name: part for name, part in parts.items() if isinstance(part, Settings)}
