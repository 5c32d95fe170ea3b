import hypothesis
import pytest

from flinz.core.planes.decoding import decode
from flinz.core.planes.photo import Photo
from flinz.demo.scenario import picture

# The first call of a compiled kernel takes longer than any later one.
hypothesis.settings.register_profile("flinz", deadline=None)
hypothesis.settings.load_profile("flinz")


@pytest.fixture(scope="session")
def face() -> Photo:
    return decode(picture("scarecrow.jpg"), "face")


@pytest.fixture(scope="session")
def pears() -> Photo:
    return decode(picture("pears.jpg"), "pears")


# Fixtures of whole photos: what draws them is left out of quick runs.
PHOTOS = {"face", "pears", "photos"}


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    # What takes longest begins first, so that no worker is left with it at the end.
    items.sort(key=lambda item: "ui" not in item.path.parts)
    for item in items:
        if PHOTOS & set(getattr(item, "fixturenames", ())):
            item.add_marker(pytest.mark.photo)
