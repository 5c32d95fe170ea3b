"""Editions: words and names by pattern, templates of recipes and sheets, crews and clusters."""

import asyncio
import os
import signal
import subprocess
import sys
import threading
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.deliver.format import Delivery
from flinz.core.deliver.registry import format_of, format_of_file
from flinz.core.document import builtin
from flinz.core.document.picture import Crop
from flinz.core.document.plate import Plate
from flinz.core.document.recipe import recipe_of
from flinz.core.document.sheet import Sheet
from flinz.core.document.sheet_file import PackedPhoto, PhotoWords, SheetFile
from flinz.core.document.source import FromLettering
from flinz.core.edition import cluster, crew, naming, template, workers
from flinz.core.edition.fields import fields_of, filled, table_of
from flinz.core.edition.plan import Edition, Entry
from flinz.core.edition.task import Order, Task
from flinz.core.ground.lettering import Lettering
from flinz.core.hand.pieces import id_of
from flinz.core.planes.decoding import decode
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import laid_box
from flinz.core.press.press import Press
from flinz.errors import DocumentError, NotFoundError, StoreError
from tests.charts import blobs, png

TABLE = "Photo;Latin;Price\nrunner beans.jpg;Phaseolus coccineus;3\n\nPEARS;Pyrus;2,50\n"


def photo_bytes(seed: int) -> bytes:
    return png(blobs(60, 80, seed=seed) * 255)


@pytest.fixture(scope="module")
def wish():
    return format_of_file("a.png").wish.model_validate({"long_edge_px": 160})


@pytest.fixture(scope="module")
def by_threshold():
    return template.of_recipe(builtin.named("threshold"))


def works_of(tasks, folder: Path) -> list[crew.Work]:
    return [
        crew.Work(number, lambda task=task: task, folder / f"{number}.png")
        for number, task in enumerate(tasks)
    ]


class Listener:
    """Hears what is told, and can be asked how each work ended."""

    def __init__(self) -> None:
        self.all: list[crew.Told] = []

    def __call__(self, told: crew.Told) -> None:
        self.all.append(told)

    @property
    def ends(self) -> dict[int, crew.Told]:
        return {told.number: told for told in self.all if told.state != "running"}


def test_words_come_from_a_table_by_title_or_file_name_whatever_their_case():
    table = table_of(TABLE.encode())

    assert fields_of("Runner_Beans", "", "1", table)["latin"] == "Phaseolus coccineus"
    fields = fields_of("pears", "First of the crop", "2", table)
    assert filled("{Title}: {price}, {latin}", fields, table) == "pears: 2,50, Pyrus"
    assert filled("no field", fields) == "no field"


@pytest.mark.parametrize("text", ["é;b\nx;1", "\ufeffé,b\r\nx,1\r\n", "é\tb\nx\t1\n"])
def test_tables_of_other_programs_are_read(text):
    assert table_of(text.encode()).columns == ["é", "b"]
    assert table_of("é;b\nx;1".encode("latin-1")).line_for("x") == {"é": "x", "b": "1"}


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "first line that names"),
        (b"photo\na\n", "one more"),
        (b"photo,a,A\nx,1,2\n", "one name"),
        (b"photo,a\nx,1\ny\n", "Line 3 of this table has 1 cells"),
        (b'photo,a\nx,"1\n', "no table"),
        (b"photo,a\nx," + b"y" * 3000, "line 2"),
    ],
)
def test_a_table_that_is_none_is_refused_in_a_sentence(data, words):
    with pytest.raises(DocumentError, match=words):
        table_of(data)


def test_a_field_that_is_not_there_says_which_are_and_a_missing_line_whose():
    table = table_of(TABLE.encode())
    with pytest.raises(DocumentError, match=r"no \{colour\} here; there are title, caption"):
        filled("{colour}", fields_of("pears", "", "1", table), table)
    with pytest.raises(DocumentError, match="no line for 'Leeks'"):
        filled("{latin}", fields_of("Leeks", "", "1", table), table)


@given(
    st.lists(st.text(max_size=300), min_size=1, max_size=12),
    st.sampled_from(["{title}", "{number} {title}", "x", "{title}.{caption}"]),
)
def test_names_are_distinct_and_can_be_written_anywhere(titles, pattern):
    found = naming.names(pattern, [(title, "..") for title in titles], None, "png")

    stems = [name.removesuffix(".png") for name in found]
    assert len({name.casefold() for name in found}) == len(titles)
    for stem in stems:
        assert stem and not set(stem) & set('<>:"/\\|?*\0\n') and stem == stem.strip(". ")
        assert len(f"{stem}.png".encode()) <= 255


def test_numbers_are_as_wide_as_the_last_and_one_name_for_two_is_said():
    pairs = [("Pears", "")] * 11

    assert naming.names("{number}", pairs, None, "pdf")[0] == "01.pdf"
    assert naming.names("{title}", pairs, None, "pdf")[:2] == ["Pears.pdf", "Pears 2.pdf"]
    assert "{number}" in (naming.shared("{title}", pairs, None) or "")
    assert naming.shared("{number} {title}", pairs, None) is None
    assert isinstance(naming.names("{x}", pairs, None, "pdf")[0], DocumentError)
    assert naming.safe_stem("CON") == "_CON" and naming.safe_stem("///") == "photo"


def test_an_edition_refuses_a_wish_that_no_format_has_and_two_photos_of_one_number():
    assert Edition(wish={"format": "png", "dpi": 150}).wished.dpi == 150
    for wrong in (
        {"wish": {"format": "png", "dpi": 1}},
        {"entries": [Entry(id=1, photo="a"), Entry(id=1, photo="b")]},
    ):
        with pytest.raises(ValueError):
            Edition.model_validate(wrong)


def test_lettering_takes_its_words_from_the_photo_and_other_plates_keep_theirs(by_threshold):
    sheet = Sheet(
        plates=[
            Plate(id="picture"),
            Plate(id="society", source=FromLettering(lettering=Lettering(words="Quillmere"))),
            Plate(id="name", source=FromLettering(lettering=Lettering(words="Name"))),
        ]
    )
    made = template.of_recipe(recipe_of(sheet, "packet"))
    photo = decode(photo_bytes(1), "one")
    words = template.words_for(
        made, {"name": "{title}", "picture": "no words"}, "Leeks", "", 1, None
    )

    found = template.sheet_for(Press(), photo, made, "Leeks", words)

    assert made.lettering == {"society": "Quillmere", "name": "Name"}
    assert [plate.source.lettering.words for plate in found.plates[1:]] == ["Quillmere", "Leeks"]
    assert found.title == "Leeks" and found.picture.photo == "one"


def test_a_finished_sheet_keeps_what_is_its_photos_own_and_matches_tones_of_others():
    press = Press()
    dark, light = (decode(png(blobs(60, 80) * 90 + low), f"{low}") for low in (10, 150))
    sheet = Sheet(
        picture={"photo": "10", "crop": {"quarter_turns": 1}}, plates=[Plate(tone={"black": 0.1})]
    )
    file = SheetFile(sheet, {"10": PackedPhoto(b"", PhotoWords(title="dark"))})

    made = template.of_sheet(press, dark, file)
    own, other = (template.sheet_for(press, photo, made, "title", {}) for photo in (dark, light))
    kept = template.sheet_for(
        press, light, template.of_sheet(press, dark, file, "numbers"), "title", {}
    )

    assert not made.file.photos
    assert own.picture == sheet.picture and own.plates == sheet.plates
    assert other.picture.crop == Crop()
    assert other.plates[0].tone.black > 0.3 and kept.plates[0].tone.black == pytest.approx(0.1)


@pytest.mark.parametrize("turn", [0, 90, 30])
def test_longer_words_are_set_smaller_so_that_they_stay_within_the_margins(turn):
    lettering = {"words": "Peas", "size": 8}
    position = {"x": 40, "y": 60, "turn": turn}
    source = {"kind": "lettering", "lettering": lettering, "position": position}
    paper = {"size": "own", "width": 80, "height": 120, "margin": 5}
    sheet = Sheet(paper=paper, plates=[Plate(id="name", source=source)])
    made, press = template.of_recipe(recipe_of(sheet, "packet")), Press()
    photo = decode(photo_bytes(1), "one")

    def lying(words):
        drawn = template.sheet_for(press, photo, made, "title", {"name": words})
        size = drawn.plates[0].source.lettering.size
        return size, press.lying(photo, drawn)[0].width

    assert lying("Leeks")[0] == 8
    size, width = lying("Runner beans, the very long ones of plot nine")
    room = {0: 70, 90: 110, 30: 70 / 0.8660254}[turn]
    assert size < 8 and 0.8 * room < width <= 0.905 * room


@given(st.integers(1, 9000), st.integers(1, 9000), st.floats(0.05, 20))
def test_a_photo_fills_its_place_as_far_as_it_reaches_and_about_its_middle(width, height, shape):
    crop = template.filling(width, height, shape)

    across, down = crop.right - crop.left, crop.bottom - crop.top
    assert across * width == pytest.approx(shape * down * height)
    assert max(across, down) == pytest.approx(1)
    assert crop.left + crop.right == pytest.approx(1) and crop.top + crop.bottom == pytest.approx(1)


@pytest.mark.parametrize(("x", "y"), [(0.2, 0.5), (0.85, 0.4), (0.5, 0.2), (0.5, 0.8)])
def test_what_fills_a_place_is_cropped_about_its_subject(x, y):
    rows, columns = np.mgrid[0:240, 0:320]
    ground = 200 + 10 * np.random.default_rng(4).random((240, 320, 1)).repeat(3, 2)
    disc = np.hypot(rows - 240 * y, columns - 320 * x) < 30
    photo = Photo(np.where(disc[..., None], (180, 40, 30), ground).astype(np.uint8), "disc")

    shape = 0.75 if y == 0.5 or y == 0.4 else 3.0
    crop = template.filling(320, 240, shape, template.middle_of(photo))

    assert crop.left * 320 <= 320 * x - 25 and 320 * x + 25 <= crop.right * 320
    assert crop.top * 240 <= 240 * y - 25 and 240 * y + 25 <= crop.bottom * 240


def test_other_photos_take_the_shape_of_a_picture_that_was_laid_by_hand():
    press = Press()
    wide, high = (decode(png(blobs(*size) * 255), f"{size}") for size in ((60, 90), (90, 60)))
    sheet = Sheet(picture={"photo": wide.key, "position": {"x": 40, "y": 50, "width": 60}})
    file = SheetFile(sheet, {wide.key: PackedPhoto(b"", PhotoWords(title="wide"))})

    made = template.of_sheet(press, wide, file)
    box = laid_box(template.sheet_for(press, high, made, "high", {}), high)

    own = laid_box(template.sheet_for(press, wide, made, "wide", {}), wide)
    assert (own.lay.width, own.lay.height) == pytest.approx((60, 40))
    assert (box.lay.width, box.lay.height) == pytest.approx((60, 40), abs=0.5)


def test_a_crew_writes_what_the_print_room_would_and_a_fault_is_one_photos_own(
    by_threshold, wish, tmp_path
):
    tasks = [Task(photo_bytes(seed), Order(by_threshold, wish, "title")) for seed in (1, 2)]
    tasks.insert(1, replace(tasks[0], photo=b"no picture"))
    works = works_of(tasks, tmp_path)

    def gone() -> Task:
        raise NotFoundError("There is no file leeks.jpg.")

    heard = Listener()
    crew.draw([*works, crew.Work(3, gone, tmp_path / "3.png")], heard, lambda: False, hands=2)

    assert [heard.ends[number].state for number in range(4)] == ["done", "failed"] * 2
    assert heard.ends[3].message == "There is no file leeks.jpg."
    photo = decode(tasks[0].photo, id_of(tasks[0].photo))
    press = Press()
    sheet = template.sheet_for(press, photo, by_threshold, "title", {})
    format_of(wish).write(tmp_path / "alone", Delivery(press, photo, sheet), wish)
    assert (tmp_path / "0.png").read_bytes() == (tmp_path / "alone").read_bytes()
    assert sorted(path.name for path in tmp_path.iterdir()) == ["0.png", "2.png", "alone"]


def test_a_worker_that_dies_costs_a_second_try_and_then_its_photo_alone(
    by_threshold, wish, tmp_path, monkeypatch
):
    good = Task(photo_bytes(1), Order(by_threshold, wish, "title"))
    works = works_of([good, good, good], tmp_path)
    begun, dying, real = [], set(), workers.subprocess.Popen

    def popen(command, **options):
        # The second photo's first worker, or both of its workers, are killed as a system does
        # that is short of memory.
        process = real(command, **options)
        begun.append(process)
        if len(begun) in dying:
            os.kill(process.pid, signal.SIGKILL)
        return process

    monkeypatch.setattr(workers.subprocess, "Popen", popen)
    for first, states in (({1}, ["done"] * 3), ({1, 2}, ["failed", "done", "done"])):
        workers.IDLE.end_all()
        begun.clear()
        dying = first
        heard = Listener()
        crew.draw(works, heard, lambda: False, hands=1)
        assert [heard.ends[number].state for number in range(3)] == states
    assert heard.ends[0].message == crew.DIED
    workers.IDLE.end_all()
    assert all(process.poll() is not None for process in begun)


def test_a_worker_is_kept_for_what_comes_next_and_ends_when_nothing_does(monkeypatch):
    begun, real = [], workers.subprocess.Popen

    def popen(command, **options):
        begun.append(real(command, **options))
        return begun[-1]

    monkeypatch.setattr(workers.subprocess, "Popen", popen)
    idle = workers.Idle(seconds=0.2)
    idle.made_ready(1)
    worker = idle.taken()
    idle.put_back(worker)
    # By its own clock, not by ours.
    begun[0].wait(30)
    other = idle.taken()

    assert len(begun) == 2 and other is not worker and other.is_alive
    other.end()
    assert begun[1].poll() is not None


def test_a_kept_worker_writes_where_its_work_was_given(by_threshold, wish, tmp_path, monkeypatch):
    task = Task(photo_bytes(1), Order(by_threshold, wish, "title"))
    for name in ("one", "other"):
        (tmp_path / name).mkdir()
        monkeypatch.chdir(tmp_path / name)
        heard = Listener()
        crew.draw(works_of([task], Path()), heard, lambda: False, hands=1)

        assert heard.ends[0].state == "done"
        assert (tmp_path / name / "0.png").is_file()


def test_a_worker_begun_early_is_the_one_that_is_taken_and_none_is_begun_while_it_waits():
    idle = workers.Idle()
    idle.begin()
    worker = idle.taken()

    assert worker.said(None, Path(), lambda share: None) == ("ready", "")
    idle.put_back(worker)
    idle.begin()
    assert idle.taken() is worker
    idle.put_back(worker)
    idle.end_all()
    assert not worker.is_alive


def test_a_worker_is_begun_with_nothing_of_the_core_loaded():
    # Whoever waits for a file has it begin before all else.
    script = (
        "import sys, flinz.edition_command;"
        "print([each for each in ('numpy', 'numba', 'cv2') if each in sys.modules])"
    )
    said = subprocess.run([sys.executable, "-c", script], capture_output=True, check=True)
    assert said.stdout.strip() == b"[]"


def test_a_disk_that_refuses_is_said_of_each_photo_and_the_rest_goes_on(
    by_threshold, wish, tmp_path
):
    task = Task(photo_bytes(1), Order(by_threshold, wish, "title"))
    nowhere, somewhere = works_of([task, task], tmp_path)
    nowhere = replace(nowhere, path=tmp_path / "gone" / "0.png")
    heard = Listener()

    crew.draw([nowhere, somewhere], heard, lambda: False, hands=1)

    assert [heard.ends[number].state for number in range(2)] == ["failed", "done"]
    assert heard.ends[0].message.startswith("The file could not be written: No such file")


def test_a_stop_ends_what_is_under_way_and_leaves_no_part_of_a_file(by_threshold, tmp_path):
    wish = format_of_file("a.png").wish.model_validate({"long_edge_px": 9000})
    task = Task(photo_bytes(1), Order(template.of_recipe(builtin.named("stipple")), wish, "title"))
    stop, heard = threading.Event(), Listener()

    def tell(told: crew.Told) -> None:
        heard(told)
        stop.set()

    crew.draw(works_of([task] * 5, tmp_path), tell, stop.is_set, hands=1)

    assert {told.state for told in heard.ends.values()} == {"stopped"}
    assert len(heard.ends) == 1 and not list(tmp_path.iterdir())


def test_the_mark_of_a_task_is_of_all_that_decides_its_file(by_threshold, wish):
    order = Order(by_threshold, wish, "Leeks")
    others = [
        replace(order, title="Beans"),
        replace(order, words={"plate-2": "Leeks"}),
        replace(order, template=template.of_recipe(builtin.named("pencil"))),
        replace(order, wish=wish.model_copy(update={"long_edge_px": 161})),
        replace(order, is_finished=True),
    ]

    marks = [each.mark("photo") for each in (order, *others)] + [order.mark("other")]

    assert len(set(marks)) == len(marks)
    assert replace(order).mark("photo") == marks[0]
    # The drawing is the same whatever file it is in.
    assert others[3].drawing_mark("photo") == order.drawing_mark("photo")


@pytest.fixture(scope="module")
def two_workers():
    from distributed import LocalCluster

    with LocalCluster(
        n_workers=2, threads_per_worker=1, processes=True, dashboard_address=None
    ) as local:
        yield local


def test_a_cluster_draws_the_same_files_and_one_worker_killed_costs_nothing(
    two_workers, by_threshold, wish, tmp_path
):
    tasks = [Task(photo_bytes(seed), Order(by_threshold, wish, "title")) for seed in range(6)]
    tasks.append(replace(tasks[0], photo=b"no picture"))
    here, there = tmp_path / "here", tmp_path / "there"
    here.mkdir()
    there.mkdir()
    heard, killed = Listener(), []

    def tell(told: crew.Told) -> None:
        heard(told)
        if told.state == "done" and not killed:
            worker = next(iter(two_workers.workers.values()))
            killed.append(worker.pid)
            os.kill(worker.pid, signal.SIGKILL)

    cluster.draw(works_of(tasks, there), tell, lambda: False, two_workers.scheduler_address)
    crew.draw(works_of(tasks[:6], here), Listener(), lambda: False, hands=1)

    assert killed
    assert [heard.ends[number].state for number in range(7)] == ["done"] * 6 + ["failed"]
    for number in range(6):
        assert (here / f"{number}.png").read_bytes() == (there / f"{number}.png").read_bytes()


async def in_a_notebook() -> None:
    """Where a loop runs in the thread that asks."""
    cluster.draw([], Listener(), lambda: False, "nowhere at all")


def test_a_cluster_that_is_not_there_or_of_another_version_is_said(two_workers, monkeypatch):
    with monkeypatch.context() as soon:
        soon.setattr(cluster, "REACH_SECONDS", 0.5)
        with pytest.raises(StoreError, match="No Dask cluster can be reached at tcp://127"):
            cluster.draw([], Listener(), lambda: False, "tcp://127.0.0.1:9")
        with pytest.raises(StoreError, match="No Dask cluster can be reached at nowhere at all"):
            asyncio.run(in_a_notebook())
    monkeypatch.setattr(cluster, "VERSION", "0.0.1")
    with pytest.raises(StoreError, match=r"has Flinz \S+; this is 0.0.1"):
        cluster.draw([], Listener(), lambda: False, two_workers.scheduler_address)
