import re
from pathlib import Path

import pytest

from flinz.core.document.steps import steps

DOCS = Path(__file__).parents[1] / "docs"


@pytest.mark.parametrize("name", steps())
def test_every_dial_stands_in_the_manual(name):
    pages = {"draw": ["looks.md"], "photo": ["stages.md", "sources.md"]}
    text = "".join((DOCS / page).read_text() for page in pages.get(name, ["stages.md"]))

    for kind_name, kind in steps()[name].kinds.items():
        assert not kind_name or kind_name == "none" or f"`{kind_name}`" in text
        for dial in kind.dials:
            assert f"`{dial.name}`" in text, f"{name} {kind_name} {dial.name}"


def test_every_link_of_the_readme_leads_somewhere():
    root = DOCS.parent
    links = re.findall(r"\]\(([^)#]+)\)", (root / "README.md").read_text())
    assert links and [link for link in links if not (root / link).exists()] == []


def test_every_screenshot_that_is_kept_is_shown_by_the_readme():
    shown = set(
        re.findall(r"docs/screenshots/([\w-]+\.png)", (DOCS.parent / "README.md").read_text())
    )

    assert {picture.name for picture in (DOCS / "screenshots").glob("*.png")} == shown


def test_every_house_recipe_stands_in_the_manual():
    from flinz.core.document.builtin import house

    text = (DOCS / "recipes.md").read_text()

    for recipe in house():
        assert f"| `{recipe.name}` |" in text and recipe.purpose in text


def test_every_look_has_a_small_picture_in_the_manual():
    from flinz.core.looks.registry import LOOKS

    text = (DOCS / "looks.md").read_text()
    pictures = [DOCS / "looks" / f"{name}.png" for name in LOOKS]

    assert all(f"(looks/{picture.name})" in text for picture in pictures)
    assert sum(picture.stat().st_size for picture in pictures) < 3_000_000
