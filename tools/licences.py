"""List what the page and the wheel carry of others, with the licence of each, into one text.

Run after the page is built: python tools/licences.py. The packages are those that it is built from,
at the versions of web/package-lock.json; the fonts are those of lettering. Python packages are
not carried: pip installs each with its own licence.
"""

import json
import sys
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[1]
WEB, FACES = ROOT / "web", ROOT / "src/flinz/core/ground/faces"
TARGET = ROOT / "src/flinz/server/page/assets/licences.txt"
RULE = "-" * 72


@dataclass(frozen=True)
class Carried:
    """A package or font of somebody else, and the text of its licence."""

    name: str
    licence: str
    text: str


def packages() -> Iterator[Carried]:
    """The packages of the page, those included that others need, by name."""
    seen = set[str]()
    lock = json.loads((WEB / "package-lock.json").read_text())
    for place, about in sorted(lock["packages"].items()):
        # The first is the page itself; those for development are not in what is built.
        if not place or about.get("dev") or about.get("devOptional") or about.get("optional"):
            continue
        folder = WEB / place
        found = sorted(folder.glob("[Ll][Ii][Cc][Ee][Nn][CcSs][Ee]*"))
        text = found[0].read_text(errors="replace").strip() if found else _said_in(folder)
        name = f"{place.rpartition('node_modules/')[2]} {about['version']}"
        if name not in seen:
            seen.add(name)
            yield Carried(name, str(about.get("license", "")), text)


def fonts() -> Iterator[Carried]:
    """The fonts of lettering."""
    for path in sorted(FACES.glob("*.licence.txt")):
        text = path.read_text().strip()
        name = f"font {path.name.removesuffix('.licence.txt')}"
        yield Carried(name, "OFL-1.1" if "SIL Open Font License" in text else "Apache-2.0", text)


def _said_in(folder: Path) -> str:
    """Where no text of its own is there: what the package says of itself."""
    about = json.loads((folder / "package.json").read_text())
    author = about.get("author", "")
    name = author.get("name", "") if isinstance(author, dict) else author
    return f"Licensed under {about.get('license', 'the terms on its home page')}. {name}".strip()


def main() -> int:
    """Write the list; 1 where something is carried without a licence."""
    carried = [*packages(), *fonts()]
    without = [each.name for each in carried if not each.text]
    if without:
        print(f"No licence is known of: {', '.join(without)}", file=sys.stderr)
        return 1
    parts = ["Flinz carries the following, each under its own licence.\n"]
    parts += [f"{each.name}  ({each.licence})" for each in carried]
    for each in carried:
        parts += [f"\n{RULE}\n{each.name}\n{RULE}\n", each.text]
    TARGET.parent.mkdir(parents=True, exist_ok=True)
    TARGET.write_text("\n".join(parts) + "\n")
    return 0


if __name__ == "__main__":
    sys.exit(main())
