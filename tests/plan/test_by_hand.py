"""What a painter asks of strokes, marks and masks through the page's addresses: kept, undone, refused with a sentence,
written to files and read from them."""

import json

import pytest

from diachrom.core.bait.document import written
from diachrom.core.bait.plan import MASK, UNMASK
from diachrom.core.bait.stroke import MOST_MM
from diachrom.store.plan_documents import read
from diachrom.work.plan import by_look, plans, tools

POINTS = json.dumps([[[0.3, 0.2, 0.0], [0.6, 0.22, 1.0]]])
DOTS = json.dumps([[[0.3, 0.2, 1.0], [0.5, 0.7, 1.0]]])


def plan_of(store, number=1):
    return plans.now(store, number).plan


def press(client, path, **values):
    return client.post(f"/plan/1{path}", data=values, headers={"HX-Request": "true"})


def layer(on, number):
    return on(plan_of, 1).layer(number)


@pytest.fixture
def drawn(client, on):
    """A layer of black with a stroke and two dots; its number."""
    press(client, "/strokes", source="torv-sot", points=POINTS)
    number = max(one.number for one in on(plan_of, 1).layers)
    press(client, f"/layers/{number}/strokes", points=DOTS, tool="dot", size_mm="2.5")
    return number


def test_strokes_and_marks_are_kept_and_each_is_a_step(client, on, drawn):
    line, dots = layer(on, drawn).strokes
    assert line.tool == ""
    assert (dots.tool, dots.size_mm, dots.count) == ("dot", 2.5, 2)
    press(client, "/undo")
    assert len(layer(on, drawn).strokes) == 1
    press(client, "/redo")
    assert len(layer(on, drawn).strokes) == 2


@pytest.mark.parametrize(
    ("do", "more", "count"),
    [("copy", {}, 3), ("both", {}, 3), ("remove", {}, 1), ("mirror", {}, 2), ("change", {"along_mm": "11"}, 2)],
)
def test_one_of_them_is_changed_and_the_others_stay(client, on, drawn, do, more, count):
    before = layer(on, drawn).strokes
    answer = press(client, f"/layers/{drawn}/strokes/change", stroke="2", do=do, **more)
    assert answer.status_code == 200
    after = layer(on, drawn).strokes
    assert len(after) == count
    assert after[0] == before[0]
    if do == "change":
        assert after[1].points[0][0] == pytest.approx(before[1].points[0][0] + 0.1, abs=0.001)
    if do == "mirror":
        assert after[1] == before[1].on_the_other_side()
    press(client, "/undo")
    assert layer(on, drawn).strokes == before


def test_a_mark_is_sized_turned_and_a_stroke_trimmed_by_figures(client, on, drawn):
    press(client, f"/layers/{drawn}/strokes/change", stroke="2", do="change", size_mm="0.2 in", turn_deg="45")
    press(client, f"/layers/{drawn}/strokes/change", stroke="1", do="change", from_share="25", to_share="75 %")
    line, dots = layer(on, drawn).strokes
    assert (dots.size_mm, dots.turn_deg) == (pytest.approx(5.08), 45)
    assert [round(u, 3) for u, _, _ in (line.points[0], line.points[-1])] == [0.375, 0.525]


@pytest.mark.parametrize(
    ("path", "values", "words"),
    [
        ("strokes/change", {"stroke": "9", "do": "remove"}, "no longer there"),
        ("strokes/change", {"stroke": "1", "do": "burn"}, "Choose what to do"),
        ("strokes/change", {"stroke": "much", "do": "copy"}, "Which stroke"),
        ("strokes/change", {"stroke": "2", "do": "change", "size_mm": "900"}, "Size"),
        ("strokes/change", {"stroke": "1", "do": "change", "from_share": "80", "to_share": "20"}, "Trim it"),
        ("strokes/again", {"source": "torv-kritt", "share": "900"}, "As large as those"),
        ("strokes/again", {"source": "", "share": "50"}, "Choose the paint"),
        ("strewn", {"tool": "trail"}, "Choose which mark"),
        ("strewn", {"tool": "dot", "line": "equator", "count": "4"}, "no line called"),
        ("strewn", {"tool": "dot", "per_cm2": "-1"}, "Marks a cm²"),
        ("strokes", {"points": DOTS, "tool": "hammer"}, "no tool called"),
        ("strokes", {"points": DOTS, "tool": "dot", "size_mm": "0"}, "Size"),
        ("place", {"along_mm": "3"}, "no stencil"),
        ("place", {"along_mm": "9000"}, "Along"),
        ("outline", {"points": "[[0.1, 0.2]]"}, "Draw around"),
        ("outline", {"points": "{"}, "Draw around"),
        ("outline", {"points": "[[0.5, 0.2], [0.5001, 0.2], [0.5, 0.2001]]"}, "smaller than 1 mm"),
        ("tool", {"tool": "77"}, "no longer among my tools"),
        ("edges", {"nose_from": "700 mm"}, "From the nose"),
        ("edges", {"nose_from": "900 %"}, "From the nose"),
    ],
)
def test_what_cannot_be_is_said_and_nothing_is_lost(client, on, drawn, path, values, words):
    before = on(plan_of, 1)
    answer = press(client, f"/layers/{drawn}/{path}", **values)
    assert answer.status_code in (404, 422)
    assert words in answer.text
    assert on(plan_of, 1) == before


def test_twenty_thousand_points_are_a_stroke_of_as_many_as_are_needed(client, on):
    many = json.dumps([[[0.1 + 0.8 * k / 20_000, 0.2, k / 1000] for k in range(20_000)]])
    assert press(client, "/strokes", source="torv-sot", points=many).status_code == 200
    stroke = on(plan_of, 1).layers[-2].strokes[0]
    assert len(stroke.points) <= 60
    assert stroke.points[-1][2] == pytest.approx(20, abs=0.1)


def test_a_plan_by_hand_goes_out_as_a_file_and_comes_back_the_same(client, on, drawn):
    press(client, "/layers", what=MASK)
    press(client, f"/layers/{drawn + 1}", kind="stencil", stencil="gill-plate")
    press(client, f"/layers/{drawn + 1}/place", along_mm="4", turn_deg="10")
    press(client, "/layers", source="torv-kritt")
    press(client, "/layers", what=UNMASK)
    plan = on(plan_of, 1)
    assert [one.what for one in plan.layers[-5:]] == ["paint", MASK, "paint", UNMASK, "clear"]
    mask = plan.layer(drawn + 1).mask
    assert (mask.anchor, mask.along_mm, mask.angle_deg) == ("gill", 4, 10)
    again, problem = read(json.loads(json.dumps(written(plan))))
    assert problem == ""
    assert again == plan


def test_a_plan_of_before_comes_in_with_its_net_as_it_was():
    old = {
        "number": 1,
        "what": "paint",
        "source": "torv-sot",
        "through": {"kind": "net", "size_mm": 3.0, "gap_mm": 0.5},
    }
    plan, problem = read({"format": "diachrom-plan", "version": 1, "layers": [old]})
    assert problem == ""
    assert plan.layers[0].mask.size_mm == 3.0
    assert plan.layers[0].mask.anchor == ""
    assert plan.layers[0].strokes == ()


@pytest.mark.parametrize(
    "stroke",
    [
        {"points": [[0.5, 0.2, 1]], "tool": "hammer"},
        {"points": [[0.5, 0.2, 1]], "tool": "dot", "size_mm": 1e9},
        {"points": "much"},
        {"points": []},
        {"points": [[float("nan"), 0.2, 1]]},
        {"points": [[0.5, 0.2, float("inf")]]},
        7,
    ],
)
def test_a_damaged_stroke_leaves_its_layer_out_and_says_so(stroke):
    layer = {"number": 1, "what": "paint", "source": "torv-sot", "strokes": [stroke]}
    plan, problem = read({"format": "diachrom-plan", "version": 2, "layers": [layer, {"number": 2, "what": "clear"}]})
    assert "Layer 1 cannot be read" in problem
    assert [one.what for one in plan.layers] == ["clear"]


def test_an_outline_drawn_on_the_right_side_is_the_same_on_the_left(client, on, drawn):
    square = [[0.4, 0.2], [0.5, 0.2], [0.5, 0.3], [0.4, 0.3]]
    masks = []
    for points in (square, [[u, 1 - v] for u, v in square]):
        press(client, f"/layers/{drawn}/outline", points=json.dumps(points))
        masks.append(layer(on, drawn).mask)
    assert masks[0].stencil != masks[1].stencil
    for key in ("size_mm", "along_mm", "down_mm"):
        assert getattr(masks[0], key) == pytest.approx(getattr(masks[1], key), abs=0.05)


def test_once_more_shifted_by_a_step_leaves_a_rim(client, on, drawn):
    press(client, f"/layers/{drawn}", kind="stencil", stencil="fin-rays")
    count = len(on(plan_of, 1).layers)
    press(client, f"/layers/{drawn}/shifted", step_mm="0.6")
    plan = on(plan_of, 1)
    assert len(plan.layers) == count + 1
    first, second = plan.layers[plan.place(drawn)], plan.layers[plan.place(drawn) + 1]
    assert second.mask.along_mm == pytest.approx(first.mask.along_mm + 0.6)
    press(client, "/undo")
    assert len(on(plan_of, 1).layers) == count


def test_there_is_nothing_to_take_off_where_no_mask_is_on(client, on):
    answer = press(client, "/layers", what=UNMASK)
    assert answer.status_code == 422
    assert "No mask is on" in answer.text
    assert on(plan_of, 1).left_on == ()


def test_every_paint_is_shown_as_it_would_look_here_and_the_nearest_to_the_photo_is_told(on):
    plan = on(plan_of, 1)
    seen, first = {}, 0
    while True:
        found, first = on(by_look.looks, plan, 0.45, 0.2, first=first)
        seen |= {one.key: one for one in found}
        if not first:
            break
    assert len(seen) > 50
    black, white = seen["torv-sot"].seen.lab[0], seen["torv-kritt"].seen.lab[0]
    assert white > black + 40
    assert all(one.far is None for one in seen.values())


def test_a_tool_whose_figures_were_changed_by_hand_is_not_named_any_more(client, on, drawn):
    client.post("/plan/tools", data={"kind": "net", "name": "Sack", "size_mm": "3", "gap_mm": "0.7", "pieces": "1"})
    number = max(tool.id for tool in on(tools.every))
    press(client, f"/layers/{drawn}/tool", tool=str(number))
    assert layer(on, drawn).mask.tool == number
    press(client, f"/layers/{drawn}", lift_mm="1")
    assert layer(on, drawn).mask.tool == number  # how it is held is not what it is
    press(client, f"/layers/{drawn}", gap_mm="0.9")
    assert layer(on, drawn).mask.tool == 0


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ({"kind": "net", "name": ""}, "Give the tool a name"),
        ({"kind": "sieve", "name": "Sieve"}, "kind of tool"),
        ({"kind": "net", "name": "Net", "size_mm": "much"}, "no number"),
        ({"kind": "net", "name": "Net", "size_mm": "60"}, "thread to thread"),
        ({"kind": "net", "name": "Net", "pieces": "0"}, "How many"),
    ],
)
def test_what_is_no_tool_is_said(client, on, values, words):
    before = len(on(tools.every))
    answer = client.post("/plan/tools", data=values, headers={"HX-Request": "true"})
    assert answer.status_code == 422
    assert words in answer.text
    assert len(on(tools.every)) == before


def test_more_baits_than_masks_are_told(client, on):
    client.post("/plan/12/work", data={"baits": "4"})
    page = client.get("/plan/12?layer=2").text
    assert "4 baits wear it at once, and there are 1" in page


def test_spots_on_spots_are_no_larger_than_a_mark_may_be(client, on, drawn):
    press(client, f"/layers/{drawn}/strokes/change", stroke="2", do="change", size_mm="50")
    press(client, f"/layers/{drawn}/strokes/again", source="torv-kritt", share="200")
    now = on(plan_of, 1)
    assert now.layers[now.place(drawn) + 1].strokes[0].size_mm == MOST_MM
