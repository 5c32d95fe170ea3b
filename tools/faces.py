"""Makes the shipped faces: takes packages of open-licensed fonts and joins their script files.

Needs npm and its registry; what it writes is kept with the source, so that nobody else does.
"""

import subprocess
import sys
import tarfile
import tempfile
from pathlib import Path

from fontTools.merge import Merger
from fontTools.subset import Options, Subsetter
from fontTools.ttLib import TTFont

OUT = Path(__file__).parent.parent / "src" / "flinz" / "core" / "ground" / "faces"
VERSION = "5.3.0"
SCRIPTS = ("latin", "latin-ext", "vietnamese", "greek", "cyrillic", "hebrew", "arabic")
# By the name of the face: the package, and the weight.
FACES = {
    "grotesque": ("archivo", 400),
    "grotesque-bold": ("archivo", 700),
    "condensed": ("anton", 400),
    "rounded": ("rubik", 700),
    "old-style": ("eb-garamond", 400),
    "slab": ("zilla-slab", 700),
    "wood-type": ("rye", 400),
    "blackletter": ("unifrakturcook", 700),
    "typewriter": ("special-elite", 400),
    "stencil": ("stardos-stencil", 700),
    "brush": ("caveat-brush", 400),
    "chalk": ("cabin-sketch", 700),
    "comic": ("bangers", 400),
    "script": ("pacifico", 400),
    "mono": ("ibm-plex-mono", 400),
}


def main() -> None:
    """Write every face and its licence."""
    OUT.mkdir(exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        for name, (package, weight) in FACES.items():
            unpacked = fetched(package, Path(folder))
            font = joined(unpacked / "files", package, weight)
            font.save(OUT / f"{name}.ttf")
            licence = (unpacked / "LICENSE").read_text(encoding="utf-8")
            (OUT / f"{name}.licence.txt").write_text(licence, encoding="utf-8")
            size = (OUT / f"{name}.ttf").stat().st_size
            print(f"{name}: {len(font.getGlyphOrder())} glyphs, {size / 1000:.0f} kB")


def fetched(package: str, folder: Path) -> Path:
    """The unpacked package."""
    wanted = f"@fontsource/{package}@{VERSION}"
    done = subprocess.run(
        ["npm", "pack", wanted, "--silent"], cwd=folder, capture_output=True, text=True, check=True
    )
    to = folder / package
    with tarfile.open(folder / done.stdout.split()[-1]) as archive:
        archive.extractall(to, filter="data")
    return to / "package"


def joined(files: Path, package: str, weight: int) -> TTFont:
    """One font of all script files of a weight, named by what it is for here."""
    parts: list[Path] = []
    known: set[int] = set()
    with tempfile.TemporaryDirectory() as folder:
        for script in SCRIPTS:
            path = files / f"{package}-{script}-{weight}-normal.woff2"
            if not path.exists():
                continue
            font = TTFont(path)
            # Each character once: what two files share comes from the first.
            fresh = set(font.getBestCmap()) - known
            known |= fresh
            if not fresh:
                continue
            options = Options(layout_features=["*"], notdef_outline=True, hinting=False)
            subsetter = Subsetter(options)
            subsetter.populate(unicodes=fresh)
            subsetter.subset(font)
            font.flavor = None
            part = Path(folder) / f"{len(parts)}.ttf"
            font.save(part)
            parts.append(part)
        made = TTFont(parts[0]) if len(parts) == 1 else Merger().merge([str(p) for p in parts])
        # A changed font may not bear a reserved name.
        for record in made["name"].names:
            if record.nameID in (1, 3, 4, 6, 16):
                record.string = f"Flinz-{package}"
    return made


if __name__ == "__main__":
    sys.exit(main())
