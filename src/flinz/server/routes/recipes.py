"""The recipe book: list, keep, rename, import and export, and a recipe on a photo."""

from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from pydantic import BaseModel, Field

from flinz.core.document import reading
from flinz.core.document.plate import STAGES, Plate, StageName
from flinz.core.document.recipe import Tones, recipe_of
from flinz.core.judge import guess
from flinz.core.judge.guess import PhotoFigures
from flinz.core.press import fitting
from flinz.errors import DocumentError
from flinz.server.files import attachment
from flinz.server.routes.judging import gone
from flinz.server.studio import Db, Id, TheStudio
from flinz.store import photos, recipes, sheets
from flinz.store.recipes import RecipeRecord

router = APIRouter(prefix="/api", tags=["recipes"])

MAX_FILE = 1_000_000


class Said(BaseModel):
    """What is said of a recipe."""

    name: str = Field(min_length=1, max_length=120)
    purpose: str = Field("", max_length=400)
    notes: str = Field("", max_length=4000)


class FromSheet(Said):
    """Which parts of a sheet to keep as a recipe; without plates all of them.

    tones: whether dials of tone are matched to the photo it is used on, or kept as numbers.
    """

    sheet_id: Id
    stages: list[StageName] = list(STAGES)
    plates: list[str] | None = None
    tones: Tones = "matched"


class RecipeFile(BaseModel):
    """The text of a recipe file."""

    text: str


class Imported(BaseModel):
    """The recipe as it stands in the book, and what of it could not be kept."""

    record: RecipeRecord
    notes: list[str]


class Guesses(BaseModel):
    """Figures of a photo, every recipe, those that suit it best first, and which show at once."""

    figures: PhotoFigures
    order: list[str]
    quick: list[str]


@router.get("/recipes")
def list_recipes(db: Db) -> list[RecipeRecord]:
    """Every recipe: own ones, then the built-in ones."""
    return recipes.every(db)


@router.post("/recipes/from-sheet", status_code=201)
def keep_recipe(db: Db, studio: TheStudio, wanted: FromSheet) -> RecipeRecord:
    """Keep a sheet's work, or part of it, as a recipe that knows the tones of its photo."""
    sheet = sheets.one(db, wanted.sheet_id).sheet
    tones = studio.press.tones(studio.photo_of(sheet), sheet)
    recipe = recipe_of(
        sheet, wanted.name, wanted.purpose, wanted.stages, wanted.plates, tones, wanted.tones
    )
    return recipes.add(db, recipe.model_copy(update={"notes": wanted.notes}))


@router.post("/recipes/import", status_code=201)
def import_recipe(db: Db, file: RecipeFile) -> Imported:
    """Take in a recipe file."""
    if len(file.text) > MAX_FILE:
        raise DocumentError("This file is too large for a recipe: they have a few kilobytes.")
    recipe, notes = reading.read_recipe(file.text)
    return Imported(record=recipes.add(db, recipe), notes=notes)


@router.post("/recipes/{ref}/duplicate", status_code=201)
def duplicate_recipe(db: Db, ref: str) -> RecipeRecord:
    """A copy that can be changed."""
    return recipes.add(db, recipes.one(db, ref).recipe)


@router.put("/recipes/{ref}")
def change_recipe(db: Db, ref: str, said: Said) -> RecipeRecord:
    """Rename an own recipe, or say something else of it."""
    return recipes.change(db, ref, said.name, said.purpose, said.notes)


@router.delete("/recipes/{ref}", status_code=204)
def remove_recipe(db: Db, ref: str) -> None:
    """Take an own recipe out of the book."""
    recipes.set_removed(db, ref, True)


@router.post("/recipes/{ref}/restore", status_code=204)
def restore_recipe(db: Db, ref: str) -> None:
    """Put a deleted recipe back."""
    recipes.set_removed(db, ref, False)


@router.get("/recipes/{ref}/file", response_class=Response)
def recipe_file(db: Db, ref: str) -> Response:
    """The recipe as a JSON file."""
    recipe = recipes.one(db, ref).recipe
    text = recipe.model_dump_json(indent=2) + "\n"
    headers = attachment(recipe.name, "json")
    return Response(text, media_type="application/json", headers=headers)


@router.get("/recipes/{ref}/picture", response_class=Response)
def recipe_picture(
    request: Request,
    db: Db,
    studio: TheStudio,
    ref: str,
    photo: str,
    long_edge_px: Annotated[int, Query(ge=16, le=1000)] = 320,
) -> Response:
    """The recipe on a photo, small, as PNG."""
    subject = studio.photo(photo)
    sheet = fitting.on_photo(studio.press, subject, recipes.one(db, ref).recipe, "")
    data = studio.small_picture(photo, sheet, long_edge_px, gone(request))
    return Response(data, media_type="image/png", headers={"Cache-Control": "no-store"})


@router.get("/recipes/{ref}/plates")
def recipe_plates(db: Db, studio: TheStudio, ref: str, photo: str) -> list[Plate]:
    """The plates of a recipe, fitted to a photo."""
    recipe = recipes.one(db, ref).recipe
    return fitting.on_photo(studio.press, studio.photo(photo), recipe, "").plates


@router.get("/photos/{photo_id}/guesses")
def guesses(db: Db, studio: TheStudio, photo_id: str) -> Guesses:
    """Which recipes suit a photo, and the figures that say so."""
    photos.one(db, photo_id)
    figures = guess.photo_figures(studio.press, studio.photo(photo_id))
    book = {record.ref: record.recipe for record in recipes.every(db)}
    order = guess.ranked(book, figures)
    quick = [ref for ref in order if guess.is_quick(book[ref])]
    return Guesses(figures=figures, order=order, quick=quick)
