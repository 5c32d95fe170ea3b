"""Pictures while dials move: drafts, figures, regions, and what is refused."""

import json

import numpy as np
import pytest
from fastapi.testclient import TestClient

from flinz.core.document.setting import with_value
from flinz.core.document.sheet import Sheet
from flinz.core.planes.decoding import decode
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from tests.charts import blobs, png
from tests.server.apps import ready_app
from tests.server.live import answers, one_answer, view

LIVE = "ws://localhost/api/sheets/live"
PHOTO = png(blobs(300, 400) * 255)


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    app = ready_app(tmp_path_factory.mktemp("live"))
    with TestClient(app, base_url="http://localhost") as client:
        client.post("/api/photos", files={"file": ("blobs.png", PHOTO)})
        yield client


def sheet_of(client, recipe):
    photo = client.get("/api/photos").json()[0]["id"]
    return client.post("/api/sheets", json={"photo": photo, "recipe": recipe}).json()["sheet"]


def asked(client, sheet, *views, number=1):
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({"ask": number, "sheet": sheet, "views": list(views)})
        return answers(socket, len(views))


def expected(sheet, edge, exact=False):
    photo, model = decode(PHOTO, "x"), Sheet.model_validate(sheet)
    drawn = Press().proof(photo, model, whole(model, photo, edge), exact=exact)
    return np.rint(drawn * 255)


@pytest.mark.parametrize("recipe", ["stipple", "crosshatch", "ink-line", "flat-tones"])
def test_every_kind_of_look_comes_as_the_core_draws_it(client, recipe):
    sheet = sheet_of(client, recipe)

    head, rows = asked(client, sheet, view("main", long_edge_px=200))["main"]

    assert np.array_equal(rows[..., 0], expected(sheet, 200))
    assert head["draft"] is False and head["ms"] > 0


def test_marks_are_counted_in_the_figures(client):
    sheet = sheet_of(client, "stipple")
    photo, model = decode(PHOTO, "x"), Sheet.model_validate(sheet)

    head, _ = asked(client, sheet, view("main"))["main"]

    dots = Press().marks(photo, model, model.plates[0])
    assert head["figures"]["marks"] == len(dots)


def test_a_look_without_marks_counts_none(client):
    head, _ = asked(client, sheet_of(client, "pencil"), view("main"))["main"]

    assert head["figures"]["marks"] is None


def test_coloured_ink_comes_in_three_channels(client):
    model = with_value(Sheet.model_validate(sheet_of(client, "threshold")), "ink.colour", "#aa2200")
    sheet = model.model_dump(mode="json")

    head, rows = asked(client, sheet, view("main"))["main"]

    assert head["channels"] == 3
    assert np.array_equal(rows, expected(sheet, 128))


@pytest.mark.parametrize("region", [[0, 0, 0.5, 0.5], [0.25, 0.5, 0.75, 1], [0.9, 0.9, 1, 1]])
def test_a_region_says_where_it_lies(client, region):
    sheet = sheet_of(client, "threshold")

    head, rows = asked(client, sheet, view("part", long_edge_px=400, region=region))["part"]

    assert (head["full_width"], head["full_height"]) == (400, 300)
    assert head["left"] == region[0] * 400 and head["top"] == region[1] * 300
    assert rows.shape[:2] == (head["height"], head["width"])


def test_only_the_first_view_carries_figures_and_suggestions(client):
    sheet = sheet_of(client, "pencil")

    found = asked(client, sheet, view("main"), view("other"))

    assert found["main"][0]["figures"] and found["main"][0]["suggestions"]
    assert found["other"][0]["figures"] is None and found["other"][0]["suggestions"] is None


def test_a_stage_has_suggestions_but_no_figures_of_print(client):
    sheet = sheet_of(client, "threshold")
    plate = sheet["plates"][0]["id"]

    head, _ = asked(client, sheet, view("m", what="stage", plate=plate, stage="tone"))["m"]

    assert head["figures"] is None and "draw.level" in head["suggestions"]


def test_a_small_drawing_says_what_it_was_drawn_with(client):
    sheet = sheet_of(client, "pencil")
    plate = sheet["plates"][0]["id"]
    small = view("small", what="stage", plate=plate, stage="draw", look="cut-paper")

    head, _ = asked(client, sheet, view("main"), small)["small"]

    assert head["drawn_with"]["look"] == "cut-paper"
    assert head["fitted"] == ["draw.ink_share", "draw.features"]


def test_a_large_picture_begins_with_a_draft_and_a_small_one_does_not(client):
    sheet = sheet_of(client, "threshold")
    for edge, drafts in ((900, [True, False]), (200, [False])):
        with client.websocket_connect(LIVE) as socket:
            views = [view("main", long_edge_px=edge)]
            socket.send_json({"ask": 1, "sheet": sheet, "views": views})
            heads = [one_answer(socket)[0] for _ in drafts]

        assert [head["draft"] for head in heads] == drafts
        assert heads[-1]["full_width"] == edge


def test_a_draft_has_no_count_of_marks_yet(client):
    sheet = sheet_of(client, "stipple")
    heads = []
    with client.websocket_connect(LIVE) as socket:
        for number in range(1, 4):
            sheet["plates"][0]["draw"]["dot"] = 0.7 + 0.013 * number
            views = [view("main", long_edge_px=900)]
            socket.send_json({"ask": number, "sheet": sheet, "views": views})
            heads.append(one_answer(socket)[0])
            while heads[-1]["draft"]:
                heads.append(one_answer(socket)[0])

    for head in heads:
        assert (head["figures"]["marks"] is None) == head["draft"]


def test_two_pages_draw_side_by_side(client):
    pencil, threshold = sheet_of(client, "pencil"), sheet_of(client, "threshold")
    with client.websocket_connect(LIVE) as one, client.websocket_connect(LIVE) as other:
        one.send_json({"ask": 1, "sheet": pencil, "views": [view("main")]})
        other.send_json({"ask": 7, "sheet": threshold, "views": [view("main")]})
        first, second = one_answer(one), one_answer(other)

    assert (first[0]["ask"], second[0]["ask"]) == (1, 7)
    assert np.array_equal(first[1][..., 0], expected(pencil, 128))
    assert np.array_equal(second[1][..., 0], expected(threshold, 128))


@pytest.mark.parametrize(
    ("change", "part"),
    [
        ({"views": [view("a", long_edge_px=0)]}, "1 or more"),
        ({"views": [view("a", what="moon")]}, "photo"),
        ({"views": [view("a", what="stage", plate="nobody")]}, "no plate"),
        ({"views": [view("a", look="oil", plate="plate-1", what="stage")]}, "no recipe 'oil'"),
        ({"views": [view(str(k)) for k in range(97)]}, "96"),
        ({"views": [view("a", long_edge_px=50_000)]}, "16,000 × 12,000"),
    ],
)
def test_what_cannot_be_shown_is_said(client, change, part):
    sheet = sheet_of(client, "threshold")
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({"ask": 5, "sheet": sheet, "views": [view("a")], **change})
        problem = socket.receive_json()["problem"]

        assert part in problem and problem.endswith(".")
        socket.send_json({"ask": 6, "sheet": sheet, "views": [view("main")]})
        assert one_answer(socket)[0]["ask"] == 6


def test_too_many_marks_are_refused_and_the_page_can_go_on(client):
    sheet = sheet_of(client, "stipple")
    sheet["plates"][0]["draw"]["dot"] = 0.1
    sheet["paper"]["long_edge"] = 2000
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({"ask": 1, "sheet": sheet, "views": [view("main")]})
        assert "Choose a larger dot" in socket.receive_json()["problem"]

        sheet["plates"][0]["draw"]["dot"] = 6
        socket.send_json({"ask": 2, "sheet": sheet, "views": [view("main")]})
        assert one_answer(socket)[0]["ask"] == 2


def test_a_view_can_be_drawn_with_other_values(client):
    sheet = sheet_of(client, "threshold")
    turned = with_value(Sheet.model_validate(sheet), "draw.level", "0.2").model_dump(mode="json")

    pictures = asked(client, sheet, view("main"), view("cell", dials={"draw.level": 0.2}))

    assert np.array_equal(pictures["cell"][1][..., 0], expected(turned, 128))
    assert not np.array_equal(pictures["cell"][1], pictures["main"][1])


def test_a_value_that_is_not_allowed_leaves_the_other_views_be(client):
    sheet = sheet_of(client, "crosshatch")
    views = [view("main"), view("bad", dials={"draw.spacing": 900}), view("good")]

    with client.websocket_connect(LIVE) as socket:
        socket.send_json({"ask": 4, "sheet": sheet, "views": views})
        messages = [socket.receive() for _ in views]

    refusals = [json.loads(each["text"]) for each in messages if each.get("text")]
    assert [(each["view"], each["ask"]) for each in refusals] == [("bad", 4)]
    assert "spacing is 900" in refusals[0]["problem"]
    assert sum(each.get("bytes") is not None for each in messages) == 2


def test_recipes_are_drawn_on_the_asks_photo(client):
    sheet = sheet_of(client, "pencil")
    of_ink = sheet_of(client, "ink-line")

    pictures = asked(client, sheet, view("main"), view("recipe", recipe="ink-line"))

    assert np.array_equal(pictures["recipe"][1][..., 0], expected(of_ink, 128))


def test_kept_views_come_before_the_others(client):
    sheet = sheet_of(client, "pencil")
    views = [view("main"), view("run"), view("watch", follows=True)]

    with client.websocket_connect(LIVE) as socket:
        socket.send_json({"ask": 1, "sheet": sheet, "views": views})
        order = [one_answer(socket)[0]["view"] for _ in views]

    assert order == ["main", "watch", "run"]


def test_each_of_two_plates_tells_what_it_adds(client):
    sheet = sheet_of(client, "threshold")
    second = {**sheet["plates"][0], "id": "plate-2"}
    two = {**sheet, "plates": [sheet["plates"][0], second]}

    figures = asked(client, two, view("main"))["main"][0]["figures"]
    one = asked(client, sheet, view("main"))["main"][0]["figures"]

    assert [each["plate"] for each in figures["plates"]] == ["plate-1", "plate-2"]
    assert all(each["alone"] == each["without"] == one["ink"] for each in figures["plates"])


def test_watched_eyes_set_the_suggested_level(client):
    sheet = sheet_of(client, "threshold")
    spot = {"left": 0.1, "top": 0.1, "right": 0.3, "bottom": 0.3, "is_eye": True}
    before = asked(client, sheet, view("main"))["main"][0]["suggestions"]["draw.level"]

    watched = {**sheet, "watch": [spot]}
    level = asked(client, watched, view("main"))["main"][0]["suggestions"]["draw.level"]

    part = blobs(300, 400)[30:90, 40:120]
    assert part.min() < level < part.max()
    assert level != before


def test_a_flood_of_asks_ends_with_the_newest(client):
    sheet = sheet_of(client, "crosshatch")

    with client.websocket_connect(LIVE) as socket:
        for number in range(1, 201):
            level = 0.2 + number / 1000
            plate = {**sheet["plates"][0], "tone": {"contrast": level}}
            socket.send_json(
                {"ask": number, "sheet": {**sheet, "plates": [plate]}, "views": [view("main")]}
            )
        seen = []
        while not seen or seen[-1] != (200, False):
            head, _ = one_answer(socket)
            seen.append((head["ask"], head["draft"]))

    # What was overtaken never comes after what overtook it.
    assert seen == sorted(seen, key=lambda each: each[0])


def drafts_of(client, sheet, asks, *views):
    """Heads of all that is sent for a row of asks, each sent when the last is settled."""
    heads = []
    with client.websocket_connect(LIVE) as socket:
        for number in range(1, asks + 1):
            sheet["plates"][0]["tone"]["contrast"] = 0.1 * number
            socket.send_json({"ask": number, "sheet": sheet, "views": list(views)})
            waiting = {each["id"] for each in views}
            while waiting:
                head = one_answer(socket)[0]
                heads.append(head)
                if not head["draft"]:
                    waiting.discard(head["view"])
    return heads


def test_a_draft_leaves_suggestions_to_the_settled_picture(client):
    heads = drafts_of(client, sheet_of(client, "threshold"), 2, view("main", long_edge_px=900))

    drafts = [head for head in heads if head["draft"]]
    assert drafts and all(head["suggestions"] == {} for head in drafts)
    assert all(head["suggestions"]["draw.level"] > 0 for head in heads if not head["draft"])


def test_spots_are_drafted_small_and_then_settle(client):
    spot = view("spot", long_edge_px=800, region=[0.3, 0.3, 0.6, 0.6], follows=True)

    heads = drafts_of(client, sheet_of(client, "ink-line"), 1, view("main", long_edge_px=900), spot)

    of_spot = [head for head in heads if head["view"] == "spot"]
    assert [head["draft"] for head in of_spot] == [True, False]
    assert of_spot[0]["full_width"] <= 400 and of_spot[1]["full_width"] == 800


def test_a_settled_picture_gives_way_to_a_newer_ask_once_a_draft_shows(client):
    sheet = sheet_of(client, "stipple")
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({"ask": 1, "sheet": sheet, "views": [view("main", long_edge_px=900)]})
        while one_answer(socket)[0]["draft"]:
            pass
        for number in range(2, 12):
            sheet["plates"][0]["draw"]["dot"] = 0.3 + 0.004 * number
            views = [view("main", long_edge_px=900)]
            socket.send_json({"ask": number, "sheet": sheet, "views": views})
        heads = [one_answer(socket)[0]]
        while heads[-1]["draft"] or heads[-1]["ask"] < 11:
            heads.append(one_answer(socket)[0])

    # Whatever came between, the last position is the one that settles.
    assert heads[-1]["ask"] == 11 and heads[-1]["draft"] is False
    asks = [head["ask"] for head in heads]
    assert asks == sorted(asks)


def test_a_strip_of_drafts_comes_before_its_settled_cells(client):
    sheet = sheet_of(client, "contour-hatch")
    cells = [
        view(f"cell-{k}", dials={"draw.spacing": 0.6 + 0.1 * k}, draft=draft)
        for draft in (True, False)
        for k in range(3)
    ]

    with client.websocket_connect(LIVE) as socket:
        first = view("first", what="photo", long_edge_px=16)
        socket.send_json({"ask": 1, "sheet": sheet, "views": [first, *cells]})
        heads = [one_answer(socket)[0] for _ in range(7)]

    assert heads[0]["view"] == "first"
    assert [head["draft"] for head in heads[1:]] == [True] * 3 + [False] * 3


def test_a_view_shows_what_will_leave(client):
    sheet = sheet_of(client, "pencil")
    wish = {"format": "png", "depth": "1-bit", "long_edge_px": 256}

    _, rows = asked(client, sheet, view("main", long_edge_px=256, leaves=wish))["main"]
    _, small = asked(client, sheet, view("main", long_edge_px=64, leaves=wish))["main"]

    assert set(np.unique(rows)) == {0, 255}
    assert len(np.unique(small)) > 2


def smaller(sheet):
    """A sheet that is sooner gone over by a pen."""
    return {**sheet, "paper": {**sheet["paper"], "long_edge": 80.0}}


def test_a_view_shows_what_a_pen_will_draw(client):
    sheet = smaller(sheet_of(client, "contour-hatch"))
    wish = {"format": "plotter", "nib": 0.1}
    wide = {**wish, "to_width": True}

    _, rows = asked(client, sheet, view("main", long_edge_px=256, leaves=wish))["main"]
    _, wider = asked(client, sheet, view("main", long_edge_px=256, leaves=wide))["main"]

    drawing = expected(sheet, 256).mean()
    assert rows.mean() > drawing + 5
    assert wider.mean() == pytest.approx(drawing, abs=8)


def test_greys_that_no_pen_draws_are_said_where_it_is_looked_at(client):
    sheet = smaller(sheet_of(client, "pencil"))
    wish = {"format": "plotter", "nib": 0.2}

    with client.websocket_connect(LIVE) as socket:
        asking = view("main", long_edge_px=256, leaves=wish)
        socket.send_json({"ask": 1, "sheet": sheet, "views": [asking]})
        said = socket.receive_json()

    assert "a pen draws no greys" in said["problem"]


def test_a_choice_that_changes_nothing_here_is_told(client):
    sheet = sheet_of(client, "threshold")
    plate = sheet["plates"][0]["id"]
    views = [
        view(mode, plate=plate, dials={"ink.blend": mode}, compared=True)
        for mode in ("darken", "normal", "screen")
    ]

    found = asked(client, sheet, view("main"), *views)

    # Black ink on white paper.
    alike = {mode: found[mode][0]["alike"] for mode in ("darken", "normal", "screen")}
    assert alike == {"darken": True, "normal": True, "screen": False}
    assert found["main"][0]["alike"] is None


def many_dots(client):
    sheet = with_value(Sheet.model_validate(sheet_of(client, "stipple")), "draw.dot", 0.25)
    return sheet.model_dump(mode="json")


def test_before_very_many_marks_are_placed_it_is_said_how_long_that_takes(client):
    sheet = many_dots(client)
    with client.websocket_connect(LIVE) as socket:
        ask = {"ask": 7, "sheet": sheet, "views": [view("main", long_edge_px=600)]}
        socket.send_json(ask)
        draft, _ = one_answer(socket)
        said = json.loads(socket.receive_text())["placing"]
        settled, _ = one_answer(socket)
        # What stands is not placed again.
        socket.send_json({**ask, "ask": 8})
        again, _ = one_answer(socket)

    assert draft["draft"] and not settled["draft"]
    assert said["ask"] == 7 and said["of"] == "Stipple" and said["seconds"] > 0
    assert said["marks"] == pytest.approx(settled["figures"]["marks"], rel=0.05)
    assert again["ask"] == 8


def test_placing_stops_when_it_is_told_to_and_the_next_ask_is_drawn(client):
    sheet = many_dots(client)
    sheet["paper"]["long_edge"] = 230
    with client.websocket_connect(LIVE) as socket:
        views = [view("main", long_edge_px=600), view("other")]
        socket.send_json({"ask": 1, "sheet": sheet, "views": views})
        draft, _ = one_answer(socket)
        json.loads(socket.receive_text())
        socket.send_text("stop")
        socket.send_json({"ask": 2, "sheet": sheet_of(client, "pencil"), "views": [view("next")]})
        following, _ = one_answer(socket)

    assert draft["ask"] == 1 and (following["ask"], following["view"]) == (2, "next")
