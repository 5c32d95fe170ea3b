"""Make the pages of the guide that Flinz serves, out of docs/guide.md: one for each heading.

Run after the page is built, whose faces it uses: python tools/guide.py
"""

import html
import re
import shutil
from dataclasses import dataclass
from pathlib import Path

from markdown_it import MarkdownIt

ROOT = Path(__file__).parents[1]
SOURCE, PICTURES = ROOT / "docs" / "guide.md", ROOT / "docs" / "guide"
PAGE = ROOT / "src" / "flinz" / "server" / "page"
TARGET = PAGE / "guide"
FACES = (("Vollkorn", 600, "vollkorn-latin-600-normal"),
         ("Source Sans 3", 400, "source-sans-3-latin-400-normal"),
         ("Source Sans 3", 600, "source-sans-3-latin-600-normal"))  # fmt: skip
STYLE = """
body { margin: 0; background: #e9e3d6; color: #1e1b18;
  font: 400 1.05rem/1.5 "Source Sans 3", system-ui, sans-serif; }
main, header, footer { max-width: 46rem; margin: 0 auto; padding: 1rem 1.5rem; }
header { display: flex; gap: 1.5rem; align-items: baseline; border-bottom: 1px solid #cfc7b6; }
h1, h2, .mark { font-family: "Vollkorn", Georgia, serif; font-weight: 600; line-height: 1.2; }
.mark { font-size: 1.6rem; color: inherit; text-decoration: none; }
.mark span, a { color: #1f6f66; }
img { max-width: 100%; max-height: 24rem; background: #bdbab3; }
ol { padding-left: 1.4rem; } li { margin: 0.45rem 0; }
code { font: inherit; border: 1px solid #cfc7b6; border-radius: 3px; padding: 0 0.35rem;
  background: #f8f5ee; }
.cards { display: grid; grid-template-columns: repeat(auto-fill, minmax(12rem, 1fr));
  gap: 1.2rem; padding: 0; list-style: none; }
.cards img { width: 100%; height: 9rem; object-fit: contain; }
.cards a { text-decoration: none; font-weight: 600; }
footer { display: flex; justify-content: space-between; border-top: 1px solid #cfc7b6; }
:focus-visible { outline: 2px solid #1f6f66; outline-offset: 2px; }
"""


@dataclass(frozen=True)
class Part:
    """A page of the guide: its title, its text, and the stem of its picture, which names it."""

    title: str
    text: str
    name: str


def parts(text: str) -> tuple[str, list[Part]]:
    """What stands before the first heading, and the pages."""
    first, *others = re.split(r"^## (.+)$", text, flags=re.MULTILINE)
    found = []
    for title, body in zip(others[::2], others[1::2], strict=True):
        picture = re.search(r"\(guide/([\w-]+)\.jpg\)", body)
        if picture is None:
            raise SystemExit(f"The page {title!r} of the guide has no picture.")
        found.append(Part(title, body, picture[1]))
    return first.partition("\n")[2], found


def style() -> str:
    """The style of all pages, a file of its own: the server's policy allows none within a page."""
    faces = "".join(
        f"@font-face {{ font-family: '{family}'; font-weight: {weight}; "
        f"src: url(/assets/{path.name}) format('woff2'); }}\n"
        for family, weight, stem in FACES
        for path in sorted((PAGE / "assets").glob(f"{stem}*.woff2"))
    )
    return faces + STYLE


def written(title: str, body: str, footer: str = "") -> str:
    """A whole page."""
    return (
        '<!doctype html>\n<html lang="en-GB"><head><meta charset="utf-8">'
        '<meta name="viewport" content="width=device-width, initial-scale=1">'
        f"<title>{html.escape(title)} – Flinz</title>"
        '<link rel="stylesheet" href="/guide/guide.css"></head><body>'
        '<header><a class="mark" href="/" aria-label="Flinz, to the shelf">Fl<span>i</span>nz</a>'
        f'<a href="/guide/">Guide</a></header><main>{body}</main>{footer}</body></html>\n'
    )


def main() -> None:
    """Write every page and its picture."""
    read = MarkdownIt()
    intro, found = parts(SOURCE.read_text())
    shutil.rmtree(TARGET, ignore_errors=True)
    TARGET.mkdir(parents=True)
    cards = "".join(
        f'<li><a href="{part.name}.html"><img src="{part.name}.jpg" alt=""><br>'
        f"{html.escape(part.title)}</a></li>"
        for part in found
    )
    index = f'<h1>Guide</h1>{read.render(intro)}<ul class="cards">{cards}</ul>'
    (TARGET / "guide.css").write_text(style())
    (TARGET / "index.html").write_text(written("Guide", index))
    for number, part in enumerate(found):
        body = read.render(part.text.replace("(guide/", "("))
        ways = [
            f'<a href="{other.name}.html">{arrow}{html.escape(other.title)}{end}</a>'
            if other else "<span></span>"
            for other, arrow, end in (
                (found[number - 1] if number else None, "← ", ""),
                (found[number + 1] if number + 1 < len(found) else None, "", " →"),
            )
        ]  # fmt: skip
        page = written(
            part.title,
            f"<h1>{html.escape(part.title)}</h1>{body}",
            f"<footer>{''.join(ways)}</footer>",
        )
        (TARGET / f"{part.name}.html").write_text(page)
        shutil.copy(PICTURES / f"{part.name}.jpg", TARGET)


if __name__ == "__main__":
    main()
