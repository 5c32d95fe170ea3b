"""The command line."""

import json
import os
import secrets
import shutil
import socket
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, NoReturn

import typer

if TYPE_CHECKING:
    from flinz.core.document.recipe import Recipe
    from flinz.core.document.sheet import Sheet
    from flinz.core.planes.photo import Photo
    from flinz.core.press.press import Press

from flinz.errors import DocumentError, FlinzError, NotFoundError, PhotoError, StoreError

FIRST_PORT = 8320
# A wrong option, argument or command: what every such error of the parser is.
USAGE_ERROR: Any = typer.BadParameter.__bases__[0]
LEAST_KEY = 16
CUTOUT_SIZE_MM = 4.0
LOOPBACK_HOSTS = ("127.0.0.1", "localhost", "::1")

app = typer.Typer(
    help="Turns photographs into black-and-white artwork that prints.",
    no_args_is_help=True,
    add_completion=False,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
)


def main() -> NoReturn:
    """Run the command line: exit 0, or 2 with one sentence."""
    try:
        app(standalone_mode=False)
    except USAGE_ERROR as error:
        _fail(error.format_message())
    except FlinzError as error:
        _fail(str(error))
    except (KeyboardInterrupt, typer.Abort):
        _fail("Stopped.")
    except MemoryError:
        _fail("There is not enough memory for a picture of this size. Choose a smaller one.")
    sys.exit(0)


def _fail(sentence: str) -> NoReturn:
    print(f"flinz: {' '.join(sentence.split())}", file=sys.stderr)
    sys.exit(2)


@app.command()
def render(
    photo: Annotated[Path, typer.Argument(help="A picture, or a sheet file (.flinz).")],
    output: Annotated[
        Path, typer.Option("-o", "--output", help="The file; its end names the format.")
    ],
    recipe: Annotated[
        str | None, typer.Option(help="For a picture: a recipe's name, or a recipe file (JSON).")
    ] = None,
    set_: Annotated[
        list[str], typer.Option("--set", help="STAGE.PARAM=VALUE, such as draw.level=0.45")
    ] = [],  # noqa: B006  (typer reads it)
    long_edge: Annotated[int | None, typer.Option(help="Pixels of the long edge.")] = None,
    dpi: Annotated[float | None, typer.Option(help="Dots an inch at the sheet's size.")] = None,
    depth: Annotated[str, typer.Option(help="auto, 1-bit, grey or colour.")] = "auto",
    part: Annotated[
        str | None, typer.Option(help="whole, subject or backdrop, as flinz cutout finds them.")
    ] = None,
) -> None:
    """Draw a photo with a recipe, or a sheet file, into a picture file."""
    from pydantic import ValidationError

    from flinz.core.deliver.format import Delivery
    from flinz.core.deliver.registry import format_of_file
    from flinz.core.document.reading import sentence_of
    from flinz.core.document.setting import with_value
    from flinz.core.press import fitting

    kind = format_of_file(output.name)
    if long_edge is not None and dpi is not None:
        raise DocumentError("Give --long-edge or --dpi, not both.")
    _check_writable(output)
    try:
        wish = kind.wish.model_validate({"depth": depth, "long_edge_px": long_edge, "dpi": dpi})
    except ValidationError as error:
        raise DocumentError(sentence_of(error)) from error
    press, sheet, picture = _sheet_of(photo, recipe)
    for setting in set_:
        sheet = _set(sheet, setting)
    if part is not None:
        for number, plate in enumerate(sheet.plates):
            if plate.source.kind in ("picture", "photo"):
                sheet = with_value(sheet, "photo.part", part, number)
    if recipe is not None:
        # What follows the photo follows what was set, too.
        sheet = fitting.fitted(press, picture, sheet)
    _write_whole(
        output,
        lambda path: kind.write(path, Delivery(press, picture, sheet), wish),
    )


@app.command()
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
    _check_writable(output)
    picture = _decoded(photo)
    said = [("keep", text) for text in keep] + [("drop", text) for text in drop]
    _write_whole(output, lambda path: write_alpha(path, picture, said, size))


@app.command("recipes")
def list_recipes(
    as_json: Annotated[bool, typer.Option("--json", help="name, look, purpose as JSON.")] = False,
) -> None:
    """List the built-in recipes."""
    from flinz.core.document import builtin

    rows = [
        {
            "name": recipe.name,
            "look": "+".join(plate.draw.look for plate in recipe.plates),  # type: ignore[attr-defined]
            "purpose": recipe.purpose,
        }
        for recipe in builtin.built_in().values()
    ]
    if as_json:
        print(json.dumps(rows, indent=2))
        return
    for row in rows:
        print(f"{row['name']:<20} {row['look']:<16} {row['purpose']}")


@app.command()
def figures(
    photo: Annotated[Path, typer.Argument(help="A picture file.")],
    recipe: Annotated[str, typer.Option(help="A recipe's name, or a recipe file (JSON).")],
    long_edge: Annotated[int, typer.Option(help="Pixels of the long edge.")] = 1400,
) -> None:
    """Measure the drawing a recipe makes of a photo; prints JSON."""
    from flinz.core.press import fitting
    from flinz.core.press.framing import whole
    from flinz.core.press.press import Press

    picture = _decoded(photo)
    press = Press()
    sheet = fitting.on_photo(press, picture, _recipe(recipe), photo.stem[:200])
    found = press.figures(picture, sheet, whole(sheet, picture, long_edge))
    print(found.model_dump_json(indent=2))


@app.command()
def serve(
    data: Annotated[Path, typer.Option(help="Folder for photos and sheets.")] = Path("flinz-data"),
    port: Annotated[int, typer.Option(min=1, max=65535)] = FIRST_PORT,
    host: Annotated[
        str, typer.Option(help="Other than loopback needs an access key; one is made.")
    ] = "127.0.0.1",
    key: Annotated[
        str | None,
        typer.Option(help="Access key that callers must know, of 16 letters or more."),
    ] = None,
) -> None:
    """Serve the application over a data folder."""
    if key is not None and len(key) < LEAST_KEY:
        raise StoreError(
            f"This access key has {len(key)} letters; it needs {LEAST_KEY} or more. Leave --key "
            "out, and Flinz makes one."
        )
    if key is None and host not in LOOPBACK_HOSTS:
        key = secrets.token_urlsafe(LEAST_KEY)
        # Once, and nowhere but here.
        print(f"The access key: {key}  (add ?key={key} to the address once)", flush=True)
    _serve(data, host, port, key)


@app.command()
def demo(
    fresh: Annotated[bool, typer.Option("--fresh", help="Throw away the demo's changes.")] = False,
    data: Annotated[Path | None, typer.Option(help="Folder for the demo's data.")] = None,
    port: Annotated[int | None, typer.Option(min=1, max=65535)] = None,
) -> None:
    """Serve the application with made-up photos; your own data is not touched."""
    from flinz.demo.scenario import fill
    from flinz.store.claim import Claim
    from flinz.store.opening import STORE

    folder = data or _demo_folder()
    folder.mkdir(parents=True, exist_ok=True)
    # Nothing is filled in or thrown away while another one serves it.
    claim = Claim(folder)
    try:
        if fresh and (folder / STORE).exists():
            shutil.rmtree(folder)
            folder.mkdir()
        fill(folder)
    finally:
        claim.release()
    _serve(folder, "127.0.0.1", port or _free_port(), None)


@app.command()
def backup(
    file: Annotated[Path, typer.Argument(help="The file to write, or to read with --bring-back.")],
    data: Annotated[Path, typer.Option(help="Folder of photos and sheets.")] = Path("flinz-data"),
    bring_back: Annotated[
        bool, typer.Option("--bring-back", help="Make the folder from the file.")
    ] = False,
) -> None:
    """Copy photos, sheets and recipes into one file, while Flinz runs or not; or bring it back."""
    from flinz.store import backup as safe

    if bring_back:
        safe.bring_back(file, data)
    else:
        _check_writable(file)
        safe.back_up(data, file)


@app.command()
def rescue(
    to: Annotated[Path, typer.Argument(help="The new folder, for what can be read.")],
    data: Annotated[Path, typer.Option(help="The damaged folder.")] = Path("flinz-data"),
) -> None:
    """Copy what can be read of a damaged folder into a new one; the old one stays as it is."""
    from flinz.store.rescue import rescued

    print(rescued(data, to).sentence)


@app.command()
def bench(
    as_json: Annotated[Path | None, typer.Option("--json", help="Also write rows here.")] = None,
    quick: Annotated[bool, typer.Option("--quick", help="1,400 px only.")] = False,
    large: Annotated[Path | None, typer.Option(help="A photo of about 24 MP.")] = None,
) -> None:
    """Time every stage and look as multiples of one Gaussian blur."""
    from flinz.bench import run

    photo = None if large is None else _decoded(large)
    rows = run(quick=quick, large=photo)
    if as_json is not None:
        _write_text(as_json, json.dumps(rows, indent=2))


@app.command()
def quality(
    as_json: Annotated[Path | None, typer.Option("--json", help="Also write rows here.")] = None,
    quick: Annotated[bool, typer.Option("--quick", help="One photo only.")] = False,
) -> None:
    """Measure how good the drawings are, on charts and the demo's photos."""
    try:
        from flinz.quality.table import run
    except ModuleNotFoundError as error:
        raise NotFoundError(
            f"flinz quality needs the package {error.name}: pip install 'flinz[quality]'."
        ) from error

    rows = run(quick=quick)
    if as_json is not None:
        _write_text(as_json, json.dumps(rows, indent=2))


def _set(sheet: "Sheet", setting: str) -> "Sheet":
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


def _sheet_of(path: Path, recipe: str | None) -> "tuple[Press, Sheet, Photo]":
    """The sheet of a sheet file, or of a recipe on a picture; its photo, and what draws it."""
    from flinz.core.document import sheet_file
    from flinz.core.press import fitting
    from flinz.core.press.packed import stock_of
    from flinz.core.press.press import Press

    if path.suffix.lower() != f".{sheet_file.SUFFIX}":
        if recipe is None:
            raise DocumentError("Name a recipe with --recipe; flinz recipes lists them.")
        press, picture = Press(), _decoded(path)
        sheet = fitting.on_photo(press, picture, _recipe(recipe), path.stem[:200])
        return press, sheet, picture
    if recipe is not None:
        raise DocumentError("A sheet file has its own recipe; leave out --recipe.")
    file = sheet_file.unpacked(_read(path))
    if file.sheet.picture.photo not in file.photos:
        raise DocumentError(f"The sheet of {path} has no photo.")
    stock = stock_of(file)
    return Press(stock=stock), file.sheet, stock.photo_of(file.sheet.picture.photo)


def _decoded(path: Path) -> "Photo":
    """The picture of a file, named by its content: a path may be longer than an id."""
    from flinz.core.hand.pieces import id_of
    from flinz.core.planes.decoding import decode

    data = _read(path)
    return decode(data, id_of(data))


def _recipe(name_or_path: str) -> "Recipe":
    from flinz.core.document import builtin
    from flinz.core.document.reading import parsed
    from flinz.core.document.recipe import Recipe

    path = Path(name_or_path)
    if path.suffix == ".json" or path.is_file():
        return parsed(Recipe, _read(path))
    return builtin.named(name_or_path)


def _read(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except FileNotFoundError:
        raise NotFoundError(f"There is no file {path}.") from None
    except OSError as error:
        raise PhotoError(f"{path} cannot be read: {error.strerror}.") from error


def _check_writable(path: Path) -> None:
    folder = path.parent
    if not folder.is_dir():
        raise StoreError(f"There is no folder {folder} to write to.")
    if path.is_dir():
        raise StoreError(f"{path} is a folder; name a file.")
    if not os.access(folder, os.W_OK):
        raise StoreError(f"The folder {folder} cannot be written to.")


def _write_text(path: Path, text: str) -> None:
    _write_whole(path, lambda part: part.write_text(text))


def _write_whole(path: Path, write: Callable[[Path], object]) -> None:
    """Write a file completely or not at all. write is given a path beside it to write to."""
    from flinz.store.whole import whole_file

    _check_writable(path)
    with whole_file(path) as part:
        write(part)


def _demo_folder() -> Path:
    base = os.environ.get("XDG_DATA_HOME") or str(Path.home() / ".local" / "share")
    return Path(base) / "flinz-demo"


def _free_port() -> int:
    for port in range(FIRST_PORT, FIRST_PORT + 50):
        if _is_free("127.0.0.1", port):
            return port
    raise StoreError(f"No port from {FIRST_PORT} on is free. Choose one with --port.")


def _is_free(host: str, port: int) -> bool:
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    with socket.socket(family) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError:
            return False
    return True


def _serve(folder: Path, host: str, port: int, key: str | None) -> None:
    import uvicorn

    from flinz.server.app import make_app

    if not _is_free(host, port):
        raise StoreError(f"Port {port} is taken by another program. Choose one with --port.")
    shown = f"[{host}]" if ":" in host else host
    address = f"http://{shown}:{port}/"
    application = make_app(folder, key=key, address=address)
    if application.state.studio.store.read_only:
        print(f"Note: {application.state.studio.store.read_only}", file=sys.stderr)
    print(f"Flinz is at {address}  (Ctrl+C stops it)", flush=True)
    uvicorn.run(
        application,
        host=host,
        port=port,
        log_level="warning",
        # Proofs come as raw rows from the same machine: squeezing them only costs time.
        ws_per_message_deflate=False,
        ws_max_size=4_000_000,
        timeout_graceful_shutdown=3,
    )
