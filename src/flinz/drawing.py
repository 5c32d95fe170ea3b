"""Commands that draw: a photo with a recipe, or a sheet file, into files of all kinds."""

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, cast

import typer

from flinz.errors import DocumentError
from flinz.files import check_writable, read, write_text, write_whole

if TYPE_CHECKING:
    from flinz.core.deliver.format import Delivery, Format, Wish
    from flinz.core.document.recipe import Recipe
    from flinz.core.document.sheet import Sheet
    from flinz.core.planes.photo import Photo
    from flinz.core.press.press import Press

CUTOUT_SIZE_MM = 4.0
# What a tracing is asked for without more words: shapes that are few and true, no pictures.
TRACED_CLOSENESS, TRACED_TONES = 0.04, 4

Source = Annotated[Path, typer.Argument(help="A picture, or a sheet file (.flinz).")]
Output = Annotated[Path, typer.Option("-o", "--output", help="The file; its end names the format.")]
OwnRecipe = Annotated[
    str | None, typer.Option(help="For a picture: a recipe's name, or a recipe file (JSON).")
]
Settings = Annotated[
    list[str], typer.Option("--set", help="STAGE.PARAM=VALUE, such as draw.level=0.45")
]
Closeness = Annotated[float | None, typer.Option(help="How closely outlines are followed, mm.")]
DropPaper = Annotated[bool, typer.Option("--drop-paper", help="Leave the paper out of it.")]
Text = Annotated[bool, typer.Option("--text", help="Words in plain ink stay text: SVG and PDF.")]
UnderLayer = Annotated[
    float | None, typer.Option(help="A silhouette printed first, drawn out (or in) by so many mm.")
]


def render(
    photo: Source,
    output: Output,
    recipe: OwnRecipe = None,
    set_: Settings = [],  # noqa: B006  (typer reads it)
    long_edge: Annotated[int | None, typer.Option(help="Pixels of the long edge.")] = None,
    dpi: Annotated[float | None, typer.Option(help="Dots an inch at the sheet's size.")] = None,
    depth: Annotated[str | None, typer.Option(help="auto, 1-bit, grey or colour.")] = None,
    part: Annotated[
        str | None, typer.Option(help="whole, subject or backdrop, as flinz cutout finds them.")
    ] = None,
    transparent: Annotated[
        bool, typer.Option("--transparent", help="Ink alone, where the format can.")
    ] = False,
    closeness: Closeness = None,
    drop_paper: DropPaper = False,
    under_layer: UnderLayer = None,
    separations: Annotated[
        bool, typer.Option("--separations", help="A black plate an ink: PDF, or a ZIP of TIFFs.")
    ] = False,
    tiles: Annotated[
        str | None, typer.Option(help="Over pages of a4, a3 or letter, to glue: PDF.")
    ] = None,
    overlap: Annotated[float | None, typer.Option(help="Of tiles, mm.")] = None,
    mirrored: Annotated[
        bool, typer.Option("--mirrored", help="Tiles as seen from behind, for a light box.")
    ] = False,
    bleed: Annotated[
        float | None, typer.Option(help="Beyond the sheet, mm, with marks to cut by: PDF.")
    ] = None,
    text: Text = False,
    plotter: Annotated[
        float | None, typer.Option(help="Single lines for a pen of so many mm: SVG.")
    ] = None,
    to_width: Annotated[
        bool, typer.Option("--to-width", help="A plotter's marks as wide as they are drawn.")
    ] = False,
) -> None:
    """Draw a photo with a recipe, or a sheet file, into a file."""
    from flinz.core.deliver.registry import format_of_file

    ways = {"separations": separations, "tiles": tiles, "plotter": plotter}
    way = [name for name, asked in ways.items() if asked is not None and asked is not False]
    if len(way) > 1:
        raise DocumentError("Separations, tiles and a plotter's lines are files of their own.")
    kind = format_of_file(output.name, *way)
    if long_edge is not None and dpi is not None:
        raise DocumentError("Give --long-edge or --dpi, not both.")
    check_writable(output)
    asked = {
        "depth": depth,
        "long_edge_px": long_edge,
        "dpi": dpi,
        "transparent": transparent or None,
        "closeness": closeness,
        "drop_paper": drop_paper or None,
        "under_layer": under_layer,
        "page": tiles,
        "overlap": overlap,
        "mirrored": mirrored or None,
        "bleed": bleed,
        "text": text or None,
        "nib": plotter,
        "to_width": to_width or None,
    }
    wish = wish_of(kind, asked)
    delivery = _delivery(photo, recipe, set_, part)
    write_whole(output, lambda path: kind.write(path, delivery, wish))


def trace(
    photo: Source,
    output: Output,
    recipe: OwnRecipe = None,
    set_: Settings = [],  # noqa: B006  (typer reads it)
    closeness: Closeness = None,
    corners: Annotated[
        float | None, typer.Option(help="Turns sharper than this stay corners, degrees.")
    ] = None,
    specks: Annotated[float | None, typer.Option(help="Leave out shapes under this, mm².")] = None,
    pinholes: Annotated[float | None, typer.Option(help="Close holes under this, mm².")] = None,
    tones: Annotated[int | None, typer.Option(help="Part plates of greys in so many.")] = None,
    drop_paper: DropPaper = False,
    under_layer: UnderLayer = None,
    under_holes: Annotated[
        float | None, typer.Option(help="Leave its holes open from so many mm² on.")
    ] = None,
    outline: Annotated[float | None, typer.Option(help="A band round all ink, mm.")] = None,
    text: Text = False,
    json_: Annotated[
        Path | None, typer.Option("--json", help="Write figures of the tracing here.")
    ] = None,
) -> None:
    """Trace a drawing into shapes: SVG, PDF, EPS or DXF."""
    from flinz.core.deliver.artwork import VectorWish
    from flinz.core.deliver.shaping import artwork_of
    from flinz.core.trace.figures import figures_of

    kind, write = artwork_writer(output)
    check_writable(output)
    asked = {
        "closeness": TRACED_CLOSENESS if closeness is None else closeness,
        "corners": corners,
        "specks": specks,
        "pinholes": pinholes,
        "tones": TRACED_TONES if tones is None else tones,
        "drop_paper": drop_paper or None,
        "under_layer": under_layer,
        "under_holes": under_holes,
        "outline": outline,
        "text": text or None,
    }
    wish = cast(VectorWish, wish_of(kind, asked))
    delivery = _delivery(photo, recipe, set_)
    artwork = artwork_of(delivery, wish)
    write_whole(output, lambda path: write(path, artwork, delivery.sheet.title))
    if json_ is not None:
        write_text(json_, figures_of(artwork.tracings).model_dump_json(indent=2))


def plot(
    lines: Annotated[Path, typer.Argument(help="A file written with --plotter.")],
    output: Annotated[Path, typer.Option("-o", "--output", help="The picture, a PNG.")],
    dpi: Annotated[float, typer.Option(min=10, max=1200, help="Dots an inch.")] = 200.0,
) -> None:
    """Draw a plotter's file as the machine would, and tell how long it takes."""
    from flinz.core.deliver.simulated import plotted

    check_writable(output)
    done = plotted(read(lines), dpi)
    write_whole(output, lambda path: done.picture.save(path, "PNG", dpi=(dpi, dpi)))
    print(done.words)


def _delivery(
    path: Path, recipe: str | None, settings: list[str], part: str | None = None
) -> "Delivery":
    """What is to be drawn: a sheet file, or a recipe on a picture, with dials set."""
    from flinz.core.deliver.format import Delivery
    from flinz.core.document.setting import with_value
    from flinz.core.press import fitting

    press, sheet, picture = sheet_of(path, recipe)
    for setting in settings:
        sheet = set_dial(sheet, setting)
    if part is not None:
        for number, plate in enumerate(sheet.plates):
            if plate.source.kind in ("picture", "photo"):
                sheet = with_value(sheet, "photo.part", part, number)
    if recipe is not None:
        # What follows the photo follows what was set, too.
        sheet = fitting.fitted(press, picture, sheet)
    return Delivery(press, picture, sheet)


def artwork_writer(path: Path) -> "tuple[Format, Callable[[Path, Any, str], None]]":
    """The format of shapes that a file's name is for, and what writes it. Raises DocumentError."""
    from flinz.core.deliver.registry import format_of_file

    kind = format_of_file(path.name)
    if kind.write_artwork is None:
        raise DocumentError(f"{path} holds pixels; a tracing is SVG, PDF, EPS or DXF.")
    return kind, kind.write_artwork


def wish_of(kind: "Format", asked: dict[str, Any]) -> "Wish":
    """The wish for a format. Raises DocumentError naming what it has no use for."""
    from pydantic import ValidationError

    from flinz.core.document.reading import sentence_of

    given = {name: value for name, value in asked.items() if value is not None}
    for name in given:
        if name not in kind.wish.model_fields:
            option = {"long_edge_px": "long-edge", "page": "tiles"}.get(name, name)
            raise DocumentError(f"{kind.label} has no use for --{option.replace('_', '-')}.")
    try:
        return kind.wish.model_validate(given)
    except ValidationError as error:
        raise DocumentError(sentence_of(error)) from error


def cutout(
    photo: Annotated[Path, typer.Argument(help="A picture.")],
    output: Annotated[Path, typer.Option("-o", "--output", help="The alpha, a PNG of greys.")],
    keep: Annotated[
        list[str], typer.Option(help="X,Y,X,Y...: a stroke on the subject, in shares 0 to 1.")
    ] = [],  # noqa: B006  (typer reads it)
    drop: Annotated[list[str], typer.Option(help="X,Y,X,Y...: a stroke on the backdrop.")] = [],  # noqa: B006
    size: Annotated[
        float, typer.Option(help="Width of a stroke, mm on a sheet of the usual size.")
    ] = CUTOUT_SIZE_MM,
) -> None:
    """Find the subject of a photo, by strokes or by itself: white where it is, black elsewhere."""
    from flinz.core.deliver.alpha import write_alpha

    if output.suffix.lower() != ".png":
        raise DocumentError(f"{output} must end in .png: an alpha is written as greys.")
    check_writable(output)
    picture = decoded(photo)
    said = [("keep", text) for text in keep] + [("drop", text) for text in drop]
    write_whole(output, lambda path: write_alpha(path, picture, said, size))


def figures(
    photo: Annotated[Path, typer.Argument(help="A picture file.")],
    recipe: Annotated[str, typer.Option(help="A recipe's name, or a recipe file (JSON).")],
    long_edge: Annotated[int, typer.Option(help="Pixels of the long edge.")] = 1400,
) -> None:
    """Measure the drawing a recipe makes of a photo; prints JSON."""
    from flinz.core.press import fitting
    from flinz.core.press.framing import whole
    from flinz.core.press.press import Press

    picture = decoded(photo)
    press = Press()
    sheet = fitting.on_photo(press, picture, recipe_of(recipe), photo.stem[:200])
    found = press.figures(picture, sheet, whole(sheet, picture, long_edge))
    print(found.model_dump_json(indent=2))


def set_dial(sheet: "Sheet", setting: str) -> "Sheet":
    """The sheet with a dial set, of the first plate, or of the one whose number stands before."""
    from flinz.core.document.setting import with_value

    path, equals, value = setting.partition("=")
    if not equals:
        raise DocumentError(f"{setting!r} is not STAGE.PARAM=VALUE.")
    number, colon, rest = path.partition(":")
    plate = 1
    if colon:
        path = rest
        plate = int(number) if number.strip().isdigit() else 0
        if not 1 <= plate <= len(sheet.plates):
            raise DocumentError(
                f"{setting!r}: there is no plate {number}; this sheet has {len(sheet.plates)}."
            )
    return with_value(sheet, path.strip(), value.strip(), plate - 1)


def sheet_of(path: Path, recipe: str | None) -> "tuple[Press, Sheet, Photo]":
    """The sheet of a sheet file, or of a recipe on a picture; its photo, and what draws it."""
    from flinz.core.deliver.packed import opened
    from flinz.core.press import fitting
    from flinz.core.press.press import Press

    if not is_sheet_file(path):
        if recipe is None:
            raise DocumentError("Name a recipe with --recipe; flinz recipes lists them.")
        press, picture = Press(), decoded(path)
        sheet = fitting.on_photo(press, picture, recipe_of(recipe), path.stem[:200])
        return press, sheet, picture
    if recipe is not None:
        raise DocumentError("A sheet file has its own recipe; leave out --recipe.")
    file, press, picture = opened(read(path), str(path))
    return press, file.sheet, picture


def is_sheet_file(path: Path) -> bool:
    """Whether a file is a sheet's, by the end of its name."""
    from flinz.core.document.sheet_file import SUFFIX

    return path.suffix.lower() == f".{SUFFIX}"


def decoded(path: Path) -> "Photo":
    """The picture of a file, named by its content: a path may be longer than an id."""
    from flinz.core.hand.pieces import id_of
    from flinz.core.planes.decoding import decode

    data = read(path)
    return decode(data, id_of(data))


def recipe_of(name_or_path: str) -> "Recipe":
    """A built-in recipe by its name, or that of a file."""
    from flinz.core.document import builtin
    from flinz.core.document.reading import parsed
    from flinz.core.document.recipe import Recipe

    path = Path(name_or_path)
    if path.suffix == ".json" or path.is_file():
        return parsed(Recipe, read(path))
    return builtin.named(name_or_path)
