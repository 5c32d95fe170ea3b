"""The command line."""

import json
import os
import secrets
import shutil
import socket
import sys
from pathlib import Path
from typing import Annotated, Any, NoReturn

import typer

from flinz import drawing, edition_command
from flinz.errors import NO_MEMORY, FlinzError, NotFoundError, StoreError
from flinz.files import check_writable, write_text

FIRST_PORT = 8320
# A wrong option, argument or command: what every such error of the parser is.
USAGE_ERROR: Any = typer.BadParameter.__bases__[0]
LEAST_KEY = 16
LOOPBACK_HOSTS = ("127.0.0.1", "localhost", "::1")

app = typer.Typer(
    help="Turns photographs into black-and-white artwork that prints.",
    no_args_is_help=True,
    add_completion=False,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
)
for command in (
    drawing.render,
    drawing.trace,
    drawing.plot,
    drawing.cutout,
    drawing.figures,
    edition_command.edition,
):
    app.command()(command)


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
        _fail(NO_MEMORY)
    sys.exit(0)


def _fail(sentence: str) -> NoReturn:
    print(f"flinz: {' '.join(sentence.split())}", file=sys.stderr)
    sys.exit(2)


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
        check_writable(file)
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

    photo = None if large is None else drawing.decoded(large)
    rows = run(quick=quick, large=photo)
    if as_json is not None:
        write_text(as_json, json.dumps(rows, indent=2))


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
        write_text(as_json, json.dumps(rows, indent=2))


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
    from flinz.server.app import make_app
    from flinz.server.serving import serve_until_told

    if not _is_free(host, port):
        raise StoreError(f"Port {port} is taken by another program. Choose one with --port.")
    shown = f"[{host}]" if ":" in host else host
    address = f"http://{shown}:{port}/"
    application = make_app(folder, key=key, address=address)
    if application.state.studio.store.read_only:
        print(f"Note: {application.state.studio.store.read_only}", file=sys.stderr)
    print(f"Flinz is at {address}  (Ctrl+C stops it)", flush=True)
    serve_until_told(application, host, port)
