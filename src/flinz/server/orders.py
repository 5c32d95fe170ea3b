"""What each photo of a stored edition is drawn by, as the store stands now."""

from collections import OrderedDict
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from sqlite3 import Connection
from typing import TYPE_CHECKING

from flinz.core.deliver.format import Wish
from flinz.core.edition import template as templates
from flinz.core.edition.plan import Edition, Entry
from flinz.core.edition.task import Order
from flinz.core.edition.template import Template
from flinz.errors import DocumentError, FlinzError, NotFoundError
from flinz.store import photos, recipes, sheets
from flinz.store.photos import PhotoRecord

if TYPE_CHECKING:
    from flinz.server.studio import Studio

# Templates that are known at once; those of finished sheets hold their photos.
KEPT = 40


@dataclass(frozen=True)
class Ordered:
    """A photo of an edition, and what it becomes or what says why it cannot be drawn."""

    entry: Entry
    photo: PhotoRecord
    order: Order | FlinzError


class Orders:
    """The orders of one studio; templates are remembered as long as what they are of stays."""

    def __init__(self, studio: "Studio") -> None:
        self._studio = studio
        self._templates: OrderedDict[str, Template] = OrderedDict()

    def template(self, db: Connection, edition: Edition) -> Template:
        """What an edition draws by. Raises NotFoundError."""
        if edition.sheet == 0:
            recipe = recipes.one(db, edition.recipe).recipe
            return self._kept(recipe.model_dump_json(), lambda: templates.of_recipe(recipe))
        record = sheets.one(db, edition.sheet)

        def made() -> Template:
            file = sheets.as_file(db, record.id)
            photo = self._studio.photo_of(record.sheet)
            return templates.of_sheet(self._studio.press, photo, file, edition.tones)

        return self._kept(f"{record.id} {record.mark} {edition.tones}", made)

    def every(self, db: Connection, edition: Edition) -> Iterator[Ordered]:
        """Every photo of an edition, in order, with what it becomes."""
        by, wish = self._by(db, edition), edition.wished
        for entry, number in _numbered(edition):
            yield self._ordered(db, edition, by, wish, entry, number)

    def one(self, db: Connection, edition: Edition, entry_id: int) -> tuple[PhotoRecord, Order]:
        """A photo of an edition and what it becomes. Raises what says why it cannot be drawn."""
        for entry, number in _numbered(edition):
            if entry.id == entry_id:
                by = self._by(db, edition)
                found = self._ordered(db, edition, by, edition.wished, entry, number)
                if isinstance(found.order, FlinzError):
                    raise found.order
                return found.photo, found.order
        raise NotFoundError("This photo is not in the edition any more.")

    def _by(self, db: Connection, edition: Edition) -> Template | NotFoundError:
        try:
            return self.template(db, edition)
        except NotFoundError as error:
            return error

    def _ordered(
        self,
        db: Connection,
        edition: Edition,
        by: Template | NotFoundError,
        wish: Wish,
        entry: Entry,
        number: int,
    ) -> Ordered:
        photo = photos.one(db, entry.photo)
        try:
            if entry.sheet:
                own = self._finished(db, entry.sheet)
                order = Order(own, wish, own.file.sheet.title, is_finished=True)
            elif isinstance(by, NotFoundError):
                return Ordered(entry, photo, by)
            else:
                words = templates.words_for(
                    by, edition.words, photo.title, photo.caption, number, edition.table
                )
                order = Order(by, wish, photo.title, words)
        except (DocumentError, NotFoundError) as error:
            return Ordered(entry, photo, error)
        return Ordered(entry, photo, order)

    def _finished(self, db: Connection, sheet_id: int) -> Template:
        mark = sheets.one(db, sheet_id).mark

        def made() -> Template:
            return Template(templates.without_own_photo(sheets.as_file(db, sheet_id)))

        return self._kept(f"{sheet_id} {mark}", made)

    def _kept(self, key: str, make: Callable[[], Template]) -> Template:
        found = self._templates.pop(key, None) or make()
        self._templates[key] = found
        while len(self._templates) > KEPT:
            self._templates.popitem(last=False)
        return found


def _numbered(edition: Edition) -> Iterator[tuple[Entry, int]]:
    """Every photo with its number, from 1; those that are left out are not counted."""
    number = 0
    for entry in edition.entries:
        number += not entry.left_out
        yield entry, number
