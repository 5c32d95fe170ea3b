"""The command that draws many photos alike: an edition, into a folder or one ZIP."""

import itertools
import json
import shutil
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from flinz.core.edition.workers import IDLE
from flinz.drawing import set_dial, wish_of
from flinz.errors import DocumentError, StoreError
from flinz.files import check_writable

if TYPE_CHECKING:
    from flinz.series import MadePhoto

MOST_SAID = 5


def edition(
    photos: Annotated[list[Path], typer.Argument(help="Pictures, or folders of them.")],
    recipe: Annotated[
        str, typer.Option(help="A recipe's name, a recipe file (JSON), or a sheet file (.flinz).")
    ],
    output: Annotated[Path, typer.Option("-o", "--output", help="A folder, or a .zip.")],
    format_: Annotated[str, typer.Option("--format", help="png, jpg, tiff, svg, pdf...")] = "png",
    set_: Annotated[
        list[str], typer.Option("--set", help="STAGE.PARAM=VALUE, such as draw.level=0.45")
    ] = [],  # noqa: B006  (typer reads it)
    long_edge: Annotated[int | None, typer.Option(help="Pixels of the long edge.")] = None,
    dpi: Annotated[float | None, typer.Option(help="Dots an inch at the sheet's size.")] = None,
    depth: Annotated[str | None, typer.Option(help="auto, 1-bit, grey or colour.")] = None,
    words: Annotated[
        list[str],
        typer.Option(help="[PLATE=]WORDS: what lettering says, such as {title} or 2={caption}."),
    ] = [],  # noqa: B006  (typer reads it)
    table: Annotated[
        Path | None, typer.Option(help="A CSV whose first column names photos; others are fields.")
    ] = None,
    names: Annotated[str, typer.Option(help="The pattern of files' names.")] = "{number} {title}",
    jobs: Annotated[
        int | None, typer.Option(min=1, max=256, help="How many are drawn at once.")
    ] = None,
    dask: Annotated[
        str | None, typer.Option(help="Draw on the Dask cluster at this address instead.")
    ] = None,
    resume: Annotated[
        bool, typer.Option("--resume", help="Go on: what is drawn already is not drawn again.")
    ] = False,
    as_json: Annotated[bool, typer.Option("--json", help="Tell of each photo as JSON.")] = False,
) -> None:
    """Draw many photos alike, into a folder or one ZIP."""
    if long_edge is not None and dpi is not None:
        raise DocumentError("Give --long-edge or --dpi, not both.")
    if dask is not None and jobs is not None:
        raise DocumentError("On a cluster Dask decides how many are drawn at once: no --jobs.")
    if dask is None:
        # It imports what it needs while this process does the same.
        IDLE.begin()
    from flinz.core.deliver.registry import format_by_suffix
    from flinz.series import planned, template_of

    kind = format_by_suffix(format_)
    wish = wish_of(kind, {"depth": depth, "long_edge_px": long_edge, "dpi": dpi})
    is_zip = output.suffix.lower() == ".zip"
    if is_zip:
        check_writable(output)
    elif output.exists() and not output.is_dir():
        raise StoreError(f"{output} is a file; name a folder, or a .zip.")
    template = template_of(recipe)
    for setting in set_:
        template = template.with_sheet(set_dial(template.file.sheet, setting))
    folder = output.with_name(f".{output.name}.parts") if is_zip else output
    run = planned(
        photos, template, kind, wish, folder, words=words, table=table, names=names, note=_note
    )
    run.said = _teller(len(run.photos), as_json)
    run.draw(resume=resume, jobs=jobs, dask=dask)
    if is_zip:
        run.pack(output)
    failed = [each for each in run.photos if each.state == "failed"]
    if failed:
        raise DocumentError(_faults(failed, len(run.photos)))
    if is_zip:
        shutil.rmtree(folder)


def _teller(count: int, as_json: bool) -> "Callable[[MadePhoto], None]":
    """What prints a line for each photo that has ended."""
    told = itertools.count(1)

    def tell(photo: "MadePhoto") -> None:
        if as_json:
            print(json.dumps(photo.said), flush=True)
            return
        if photo.state == "failed":
            words = f"{photo.path.name}: {photo.message}"
        elif photo.state == "kept":
            words = f"{photo.name}  was there"
        else:
            words = f"{photo.name}  {photo.seconds:.1f} s"
        print(f"{next(told)} of {count}  {words}", flush=True)

    return tell


def _faults(failed: "list[MadePhoto]", count: int) -> str:
    said = [f"{each.path.name}: {each.message}" for each in failed[:MOST_SAID]]
    more = [f"and {len(failed) - MOST_SAID} more"] if len(failed) > MOST_SAID else []
    return f"{len(failed)} of {count} photos failed. {'; '.join(said + more)}"


def _note(sentence: str) -> None:
    print(f"flinz: {sentence}", file=sys.stderr)
