"""Pulls: kept versions against a plain list, whatever is done to the sheet meanwhile."""

import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule

from flinz.core.document.picture import Picture
from flinz.core.document.sheet import Sheet
from flinz.errors import NotFoundError
from flinz.store import database, photos, pulls, sheets
from tests.charts import png, ramp

NAMES = st.text("abc ", min_size=1, max_size=4)


class Keeping(RuleBasedStateMachine):
    """Against a list of (id, name, title, removed), oldest first."""

    def __init__(self):
        super().__init__()
        self.db = database.connect(":memory:")
        database.migrate(self.db)
        photo = photos.add(self.db, png(ramp()), "Ramp")
        self.sheet = sheets.add(self.db, Sheet(picture=Picture(photo=photo.id), title="Begin"))
        self.model = []

    def teardown(self):
        self.db.close()

    @rule(title=NAMES)
    def change_the_sheet(self, title):
        changed = self.sheet.sheet.model_copy(update={"title": title})
        base = self.sheet.revision
        self.sheet = sheets.change(self.db, self.sheet.id, base, changed, f"Title: {title}")

    @rule()
    def undo(self):
        self.sheet = sheets.undo(self.db, self.sheet.id)

    @rule(name=NAMES)
    def keep(self, name):
        kept = pulls.keep(self.db, self.sheet.id, name, self.sheet.sheet)
        self.model.append([kept.id, name, self.sheet.sheet.title, False])

    @precondition(lambda self: self.model)
    @rule(data=st.data(), name=NAMES)
    def rename(self, data, name):
        pull = data.draw(st.sampled_from(self.model))
        pulls.rename(self.db, self.sheet.id, pull[0], name)
        pull[1] = name

    @precondition(lambda self: self.model)
    @rule(data=st.data(), removed=st.booleans())
    def delete_or_put_back(self, data, removed):
        pull = data.draw(st.sampled_from(self.model))
        pulls.set_removed(self.db, self.sheet.id, pull[0], removed)
        pull[3] = removed

    @invariant()
    def every_pull_that_is_not_deleted_is_as_it_was_kept(self):
        found = [
            (each.id, each.name, each.sheet.title) for each in pulls.every(self.db, self.sheet.id)
        ]
        assert found == [tuple(each[:3]) for each in reversed(self.model) if not each[3]]


TestKeeping = Keeping.TestCase
TestKeeping.settings = settings(max_examples=25, stateful_step_count=20, deadline=None)


@pytest.mark.parametrize(
    "ask",
    [
        lambda db, sheet: pulls.one(db, sheet, 99),
        lambda db, sheet: pulls.rename(db, sheet, 99, "x"),
        lambda db, sheet: pulls.set_removed(db, sheet, 99, True),
    ],
)
def test_a_pull_that_is_not_there_is_said_to_be_so(ask):
    db = database.connect(":memory:")
    database.migrate(db)
    photo = photos.add(db, png(ramp()), "Ramp")
    sheet, other = (sheets.add(db, Sheet(picture=Picture(photo=photo.id))) for _ in range(2))
    kept = pulls.keep(db, other.id, "Of the other", other.sheet)

    with pytest.raises(NotFoundError, match="no such pull of this sheet"):
        ask(db, sheet.id)
    # Nor can one sheet reach another's.
    with pytest.raises(NotFoundError):
        pulls.one(db, sheet.id, kept.id)
    db.close()
