"""The guide: its pages are short, and name what stands on the screen."""

import json
import re
from pathlib import Path

import pytest

from flinz.core.deliver.registry import FORMATS
from flinz.core.document import builtin
from flinz.core.document.steps import steps
from flinz.core.judge.machines import MACHINES
from flinz.core.stages.pots import INKS
from flinz.demo import composed
from flinz.demo.scenario import PACKETS_BY, PHOTOS

ROOT = Path(__file__).parents[1]
TEXT = (ROOT / "docs" / "guide.md").read_text()
PAGES = dict(zip(*[iter(re.split(r"^## (.+)$", TEXT, flags=re.MULTILINE)[1:])] * 2, strict=True))
MOST_STEPS = 9
# Put together as it is shown; tests/ui/test_edition_page.py presses them.
COMPOSED = {"+", "Draw 8 files", "Download all as ZIP", "the photo’s title"}


@pytest.fixture(scope="module")
def on_screen():
    """All that may stand on the screen, small letters."""
    page = " ".join(path.read_text() for path in (ROOT / "web" / "src").rglob("*.tsx"))
    said = [page, json.dumps({name: _words(step) for name, step in steps().items()})]
    said += [each.label for each in (*FORMATS.values(), *MACHINES)]
    said += [each.name for each in (*INKS, *builtin.built_in().values())]
    said += [each.title for each in PHOTOS] + [PACKETS_BY, composed.CHALK.sheet.title]
    cuts = (ROOT / "src/flinz/core/stages/paper.py").read_text()
    return " ".join([*said, cuts]).lower()


def _words(step):
    kinds = step.kinds.values()
    options = [option.label for kind in kinds for dial in kind.dials for option in dial.options]
    labels = [dial.label for kind in kinds for dial in kind.dials]
    verbs = [verb.label for name in ("photo", "tone") for verb in step.verbs(name)]
    return [step.title, *(kind.label for kind in kinds), *labels, *options, *verbs]


@pytest.mark.parametrize("title", PAGES)
def test_a_page_has_a_picture_few_steps_and_ends_with_a_file(title):
    lines = re.findall(r"^\d+\. .+$", PAGES[title], re.MULTILINE)

    assert 1 <= len(lines) <= MOST_STEPS
    assert re.search(r"\*\*(Download|Contact)", " ".join(lines))
    picture = re.search(r"!\[.+\]\((guide/[\w-]+\.jpg)\)", PAGES[title])
    assert picture and (ROOT / "docs" / picture[1]).is_file()


@pytest.mark.parametrize("title", PAGES)
def test_all_that_a_page_names_stands_on_the_screen(title, on_screen):
    named = {*re.findall(r"\*\*([^*]+)\*\*", PAGES[title])}

    missing = {
        words for words in named
        if words.lower() not in on_screen and words.lower().replace(" ", "-") not in on_screen
    }  # fmt: skip
    assert missing - COMPOSED == set()
