"""Runs without a screen: events and their ways, responses, dragging, time that is wound back, recordings."""

import math
from itertools import pairwise

import numpy as np
import pytest
from click.testing import CliRunner
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import chalcedon
from chalcedon.__main__ import cli
from chalcedon.evaluate import DisplayList
from chalcedon.formula import Formula
from chalcedon.live.recording import (
    first_difference,
    log_lines,
    read_recording,
    recording_of,
    replay,
    write_recording,
)
from chalcedon.problems import ChalcedonError, ValueProblem
from chalcedon.scene import Circle, Group, Polyline, Rect, Scene, Text

F, Live = Formula, chalcedon.Live


def harbour():
    """A lamp in a house, a buoy on the tide, a dog that comes after the pointer."""
    scene = Scene(size=(400, 300))
    scene.inputs.add("tide", 0.4, low=0, high=1)
    scene.inputs.add("lit", False)
    house = Group(
        id="house", at=(50, 50), children=[Rect(id="wall", size=(100, 100)), Circle(id="lamp", at=(50, 50), radius=20)]
    )
    scene.add(house)
    scene.add(Circle(id="buoy", at=(F("tide * 100 + 200"), 200), radius=10))
    scene.add(Circle(id="dog", at=F("follow(pointer, 0.2)"), radius=4, pointer="none"))
    scene.add(Circle(id="drop", radius=2, pointer="none", at=(-9, -9)))
    return scene


def names(live, *kinds):
    return [(e.name, e.target) for e in live.log if not kinds or e.name in kinds]


def test_what_an_input_moves_is_hit_by_what_comes_after_it_in_the_same_step():
    live = Live(harbour())
    live.set_input("tide", 1)
    live.click(300, 200)
    live.set_input("tide", 0)
    live.click(300, 200)
    live.click(200, 200)
    live.advance()
    assert names(live, "click") == [("click", "buoy"), ("click", ""), ("click", "buoy")]


def test_events_go_from_the_shape_up_and_come_in_order():
    scene = harbour()
    live = Live(scene)
    heard = []
    for name in ("click", "enter", "leave", "down"):
        live.on(name, lambda e: heard.append((e.name, e.target, e.path)))
    live.click(100, 100)
    live.advance()
    assert names(live) == [
        ("over", "lamp"), ("enter", "house"), ("enter", "lamp"), ("move", "lamp"), ("down", "lamp"), ("up", "lamp"),
        ("click", "lamp"),
    ]  # fmt: skip
    assert live.log[-1].path == ("lamp", "house", "") and heard[-1] == ("click", "lamp", ("lamp", "house", ""))
    live.pointer_move(60, 60)
    live.advance()
    assert names(live)[7:] == [
        ("out", "lamp"),
        ("leave", "lamp"),
        ("over", "wall"),
        ("enter", "wall"),
        ("move", "wall"),
    ]
    live.pointer_leave()
    live.advance()
    assert names(live)[12:] == [("out", "wall"), ("leave", "wall"), ("leave", "house")]


def test_clicks_need_one_place_and_double_clicks_little_time():
    live = Live(harbour())
    live.pointer_down(100, 100)
    live.pointer_up(60, 60)
    live.advance()
    assert names(live, "click") == [], "pressed on the lamp, let go far away on the wall"
    for wait in (1, 1, 60):
        live.click(100, 100)
        for _ in range(wait):
            live.advance()
    assert names(live, "click", "dblclick") == [
        ("click", "lamp"),
        ("click", "lamp"),
        ("dblclick", "lamp"),
        ("click", "lamp"),
    ]
    live.pointer_move(100, 100)
    live.pointer_up(100, 100)
    live.advance()
    assert names(live, "up")[-1:] == [("up", "lamp")] and len(names(live, "up")) == 4, "it wasn't down"


def test_a_response_says_what_then_changes():
    scene = harbour()
    scene["lamp"].responses = [
        {"on": "click", "if": "tide < 0.6", "do": [
            {"set": "lamp.fill", "to": "#000000"},
            {"set": "lamp.fill", "to": "#ffffff", "over": 0.5, "ease": "linear"},
            {"set": "wall.size.x", "to": F("tide * 100")},
            {"add": "tide", "by": 0.1},
            {"toggle": "lit"},
            {"emit": "lit", "values": {"at": F("event.x"), "who": "lamp"}},
            {"order": "house", "to": "front"},
            {"stop": ""},
        ]},
        {"on": "keydown", "key": "ArrowUp", "do": [{"add": "lamp.at.y", "by": -5}]},
    ]  # fmt: skip
    scene["house"].responses = [{"on": "click", "do": [{"remove": "buoy"}]}]
    scene.responses = [
        {"on": "event", "name": "lit", "do": [{"set": "wall.opacity", "to": F("event.at / 100"), "delay": 0.2}]},
        {"on": "every", "seconds": 0.5, "do": [{"next": "wall.join"}]},
        {"on": "when", "formula": "tide > 0.55", "do": [{"emit": "high"}]},
        {"on": "start", "do": [{"set": "house.opacity", "to": 0.5}]},
    ]
    before = scene_state(scene)
    live = Live(scene)
    told = []
    live.on("lit", told.append)
    live.on("high", told.append)
    live.click(100, 100)
    live.advance()
    assert live.value("house", "opacity") == 0.5
    assert told[0].values == {"at": 50, "who": "lamp"} and told[0].target == "lamp", "places are those of its group"
    assert live.inputs["tide"] == pytest.approx(0.5) and live.inputs["lit"] is True
    assert live.value("wall", "size") == (40, 100), "each act sees what came before it, and the tide rose later"
    assert [n.shape.id for n in live.display.order] == ["buoy", "dog", "drop", "wall", "lamp"]
    assert live.value("buoy", "visible"), "the click did not go on to the house"
    live.advance(0.25)
    assert live.value("lamp", "fill") not in ("#000000", "#ffffff") and live.value("wall", "opacity") == 0.5
    live.advance(0.5)
    assert live.value("lamp", "fill") == "#ffffff" and live.value("wall", "join") != scene["wall"].join
    live.key_down("ArrowUp")
    live.advance()
    assert live.value("lamp", "at") == (50, 45), "pressing it gave it the focus"
    live.click(100, 96)
    live.advance()
    assert live.inputs["tide"] == pytest.approx(0.6) and [e.name for e in told].count("high") == 1
    live.click(100, 96)
    live.advance()
    assert not live.value("buoy", "visible"), "the condition no longer holds, so nothing stops it"
    assert scene_state(scene) == before and live.faults == [], "a run changes no scene"
    live.advance(0.6)
    kept = live.keep()
    assert {"lamp", "wall", "buoy", "house"} <= set(kept) and scene.inputs["tide"] == pytest.approx(0.6)
    assert [s.id for s in scene.shapes][-1] == "house" and scene["lamp"].fill == "#ffffff"
    scene.undo()
    assert scene_state(scene) == before, "keeping it is one step"
    live.reset()
    assert live.time == 0 and live.value("lamp", "fill") == scene["lamp"].fill and live.inputs["tide"] == 0.4


def scene_state(scene):
    return chalcedon.print_shapes(scene.shapes), dict(scene.inputs)


def test_copies_are_put_down_with_a_spacing_and_the_oldest_go_first():
    scene = harbour()
    scene.responses = [
        {"on": "move", "do": [{"place": "drop", "at": F("(event.x, event.y)"), "spacing": 10, "most": 4}]}
    ]
    live = Live(scene)
    for x in range(200, 300, 3):
        live.pointer_move(x, 250)
        live.advance()
    at = [p.at[0] for p in live.state.placed]
    assert len(at) == 4 and min(b - a for a, b in pairwise(at)) >= 10
    drawn = [n.world.e for n in live.display.order if n.shape.id == "drop"]
    assert drawn[1:] == at and len(scene) == 6, "they are painted, and the scene has none of them"
    scene["drop"].radius = 7
    live.advance()
    assert {n.values["radius"] for n in live.display.nodes(scene["drop"])} == {7}, "they follow what is edited"
    scene.remove(scene["drop"])
    live.pointer_move(100, 250)
    live.advance()
    assert live.state.placed and not [n for n in live.display.order if n.shape.id == "drop"]
    assert any("drop" in f for f in live.faults)
    other = harbour()
    other.responses = [{"on": "move", "do": [{"place": "drop", "at": F("(event.x, event.y)")}]}]
    live = Live(other)
    for x in range(120):
        live.pointer_move(x, 250)
        live.advance()
    assert [p.at[0] for p in live.state.placed] == list(range(20, 120)), "a hundred unless it is said otherwise"


def test_dragging_needs_no_code():
    scene = harbour()
    scene.add(Polyline(id="way", points=[(0, 290), (400, 290)], pointer="none"))
    scene.add(Rect(id="pen", at=(250, 20), size=(50, 50), pointer="none", fill=None))
    for how, extra, to, expected in [
        ("free", {}, (40, 30), (60 + 40, 260 + 30)),
        ("x", {}, (40, 30), (100, 260)),
        ("y", {}, (40, 30), (60, 290)),
        ("grid", {"drag_grid": 25}, (40, 30), (100, 300)),
        ("along", {"drag_on": "way"}, (40, -100), (100, 290)),
        ("within", {"drag_on": "pen"}, (500, -235), (300, 25)),
        ("within", {}, (-500, 500), (8, 292)),
    ]:
        stone = scene.add(Circle(id="stone", at=(60, 260), radius=8, dragging=how, **extra))
        live = Live(scene)
        live.pointer_down(60, 260)
        live.pointer_move(60 + to[0], 260 + to[1])
        live.advance()
        assert live.value("stone", "at") == pytest.approx(expected), how
        assert live.cursor == "grabbing" and live.display.moment.dragged == {"stone"}
        live.pointer_up(60 + to[0], 260 + to[1])
        live.advance()
        assert names(live, "dragstart", "drag", "dragend", "click") == [
            (n, "stone") for n in ("dragstart", "drag", "dragend")
        ]
        assert stone.at == (60, 260)
        live.detach()
        scene.remove(stone)
    scene["buoy"].dragging = "x"
    live = Live(scene)
    live.pointer_down(240, 200)
    live.pointer_move(270, 230)
    live.advance()
    assert live.inputs["tide"] == pytest.approx(0.7) and live.value("buoy", "at") == pytest.approx((270, 200))
    assert not live.state.overrides, "the input says where it is"
    live.pointer_move(990, 200)
    live.advance()
    assert live.inputs["tide"] == 1, "no farther than its limits"
    live.detach()
    scene["buoy"].dragging = "free"
    live = Live(scene)
    live.pointer_down(240, 200)
    live.pointer_move(270, 230)
    live.advance()
    assert live.value("buoy", "at") == pytest.approx((270, 230)), "what no input says is of the run alone"
    live.pointer_move(280, 200)
    live.advance()
    live.pointer_up(280, 200)
    live.inputs["tide"] = 0.4
    live.advance()
    assert live.value("buoy", "at") == pytest.approx((240, 200)), "where the inputs say all of it, it follows them"


def test_mistakes_stop_nothing():
    scene = harbour()
    scene["lamp"].responses = [
        {"on": "click", "do": [{"set": "lampp.fill", "to": "red"}]},
        {"on": "click", "do": [{"set": "lamp.radius", "to": -5}, {"set": "lit", "to": True}]},
        {"on": "click", "if": "tide / 0 > 1", "do": [{"set": "lit", "to": True}]},
        {"on": "click", "do": [{"set": "lamp.radius", "to": 9}]},
        {"on": "event", "name": "echo", "do": [{"emit": "echo"}]},
    ]
    live = Live(scene)
    calls = []

    def breaks(event):
        raise RuntimeError("no")

    def removes(event):
        calls.append(event.target)
        scene.remove(scene["lamp"])

    live.on("click", breaks)
    live.on("click", removes)
    live.click(100, 100)
    live.advance()
    assert live.value("wall", "size") and calls == ["lamp"] and "lamp" not in scene
    said = " | ".join(live.faults)
    for part in (
        "Did you mean lamp?",
        "negative",
        "divides by zero",
        "a handler of the program failed (RuntimeError: no)",
    ):
        assert part in said, said
    assert live.inputs["lit"] is False
    live.pointer_move(101, 101)
    live.advance()
    assert names(live)[-2:] == [("enter", "wall"), ("move", "wall")]
    scene.undo()
    live.emit("echo")
    live.advance()
    assert any("more than 1000 events" in f for f in live.faults)
    for bad in ((math.inf, 0), (math.nan, 0), (0, 1e12)):
        with pytest.raises(ValueProblem):
            live.pointer_move(*bad)
    for bad in (-1, 1e9, math.nan):
        with pytest.raises(ValueProblem):
            live.seek(bad)
    with pytest.raises(ValueProblem):
        live.inputs["tide"] = 7
    with pytest.raises(ValueProblem):
        live.value("nobody", "at")


def clicked(*do, **more):
    return [{"on": "click", "do": list(do), **more}]


@pytest.mark.parametrize(
    "bad",
    [
        "x",
        [1],
        [{"on": "click"}],
        [{"on": "clack", "do": []}],
        [{"on": "when", "do": []}],
        [{"on": "every", "seconds": 0, "do": []}],
        clicked(**{"if": "a = b"}),
        clicked(more=1),
        clicked("x"),
        clicked({"set": "a", "add": "b"}),
        clicked({"set": "a.b.c.d", "to": 1}),
        clicked({"set": "a.b", "to": {"x": 1}}),
        clicked({"set": "a.b", "to": F("import os")}),
        clicked({"set": "a.b", "ease": "slow"}),
        clicked({"run": "away"}),
        clicked({"place": "a", "most": 0}),
        clicked() * 500,
    ],
)
def test_what_is_no_response_is_said(bad):
    with pytest.raises(ValueProblem) as problem:
        Circle(responses=bad)
    assert len(str(problem.value)) < 400


def test_responses_follow_names_and_survive_a_file(tmp_path):
    scene = harbour()
    told = [
        {
            "on": "contact",
            "with": "wall",
            "if": "buoy.at.x > 3",
            "do": [{"set": "buoy.fill", "to": F("buoy.stroke")}, {"order": "buoy", "to": "house"}],
        },
        {
            "on": "keydown",
            "key": "a",
            "do": [
                {"next": "buoy.fill", "of": ["red", "var(--tar)", None]},
                {"goto": "quay"},
                {"run": "speed", "speed": 2},
            ],
        },
    ]
    scene["buoy"].responses = told
    scene["house"].id = "shed"
    scene["buoy"].id = "float"
    again = [r for r in scene["float"].responses]
    assert again[0].do[0].target == "float.fill" and again[0].do[0].get("to").text == "float.stroke"
    assert again[0].condition == "float.at.x > 3" and again[0].do[1].get("to") == "shed"
    chalcedon.save(scene, tmp_path / "a.chal")
    read = chalcedon.open(tmp_path / "a.chal")
    assert read.equals(scene) and read["float"].responses == scene["float"].responses
    twin = scene.add(scene["float"].copy())
    assert twin.responses[0].do[0].target == f"{twin.id}.fill", "a copy speaks of itself"
    parsed = chalcedon.parse_text(chalcedon.print_shapes([scene["float"]]))
    assert parsed[0].responses == scene["float"].responses


def test_a_run_on_a_desk_takes_edits_while_it_goes_on():
    scene = harbour()
    display = DisplayList(scene)
    live = Live(display)
    live.set_input("tide", 0.9)
    live.advance()
    assert display.node(scene["buoy"]).values["at"] == pytest.approx((290, 200))
    scene["buoy"].at = (F("tide * 10"), 5)
    live.advance()
    assert display.node(scene["buoy"]).values["at"] == pytest.approx((9, 5)), "the run's tide, and the new formula"
    live.detach()
    display.update()
    assert display.node(scene["buoy"]).values["at"] == pytest.approx((4, 5))


paths = st.lists(
    st.tuples(
        st.sampled_from(
            ["move", "move", "move", "down", "up", "leave", "cancel", "step", "step", "key", "tide", "edit"]
        ),
        st.integers(1, 2),
        st.integers(-20, 320),
        st.integers(-20, 320),
    ),
    max_size=40,
)


def wandering():
    scene = harbour()
    scene["lamp"].responses = [{"on": "enter", "do": [{"set": "lamp.at", "to": F("event.x, event.y"), "over": 0.1}]}]
    scene["wall"].responses = [{"on": "down", "do": [{"order": "wall", "to": "front"}, {"add": "tide", "by": 0.05}]}]
    scene["buoy"].dragging = "free"
    scene.responses = [{"on": "click", "do": [{"place": "drop", "at": F("(event.x, event.y)"), "most": 3}]}]
    scene.add(Text(id="said", at=(0, 280), content=F('f"{count(pointer.down)} {noise(time, wavelength=0.3):.3f}"')))
    return scene


def come_in(live, what, pointer, x, y):
    if what == "step":
        live.advance()
    elif what == "move":
        live.pointer_move(x, y, pointer)
    elif what == "down":
        live.pointer_down(x, y, 0, pointer)
    elif what == "up":
        live.pointer_up(x, y, 0, pointer)
    elif what == "leave":
        live.pointer_leave(pointer)
    elif what == "cancel":
        live.pointer_cancel(pointer)
    elif what == "key":
        live.key_down("a") if x > 100 else live.key_up("a")
    elif what == "tide":
        live.inputs["tide"] = min(max(x, 0), 300) / 300
    elif what == "edit":
        live.scene["wall"].at = (x / 4, y / 4)


@settings(suppress_health_check=[HealthCheck.too_slow], max_examples=50, deadline=None)
@given(paths)
def test_enter_and_leave_come_in_pairs_and_a_captured_pointer_stays(steps):
    live = Live(wandering())
    inside = {}
    for step in steps:
        come_in(live, *step)
    live.advance()
    for pointer in (1, 2):
        live.pointer_cancel(pointer)
    live.advance()
    for event in live.log:
        on = inside.setdefault(event.pointer, [])
        if event.name == "enter":
            assert event.target not in on, "it is entered once"
            on.append(event.target)
        elif event.name == "leave":
            on.remove(event.target)  # raises for what was never entered
        elif event.name in ("move", "down", "up", "click") and event.target:
            assert event.target in on, "whatever hears of a pointer was entered by it"
    assert not any(inside.values()), "all that was entered is left at the end"
    drags = [e.name for e in live.log if e.name in ("dragstart", "dragend")]
    assert drags.count("dragstart") == drags.count("dragend")


def shown(live):
    return [
        (n.shape.id, n.copy, [round(v, 6) for v in n.world], n.values.get("content"), n.values.get("fill"))
        for n in live.display.order
    ]


@settings(suppress_health_check=[HealthCheck.too_slow], max_examples=20, deadline=None)
@given(paths.map(lambda p: [s for s in p if s[0] != "edit"]), st.integers(0, 200))
def test_a_recording_gives_the_same_run_from_anywhere(steps, back):
    live = Live(wandering(), seed=5)
    for step in steps:
        come_in(live, *step)
        live.advance(0.2)
    log, end = log_lines(live.log), live.time
    for _ in range(2):
        again = replay(wandering(), recording_of(live))
        assert log_lines(again.log) == log and shown(again) == shown(live)
    seen = shown(live)
    live.seek(min(back / 60, end))
    live.seek(end)
    assert log_lines(live.log) == log and shown(live) == seen, "wound back and gone on, it is where it was"


def test_recordings_are_files(tmp_path):
    scene = wandering()
    chalcedon.save(scene, tmp_path / "quay.chal")
    live = Live(scene, seed=3)
    for x in range(0, 200, 5):
        live.pointer_move(x, 100)
        live.advance()
    live.click(100, 100)
    live.inputs["tide"] = np.float64(0.75)
    live.wheel(np.float32(50), np.int64(60), np.float64(3))
    live.happen("ebb", {"depth": np.float64(2), "at": np.array([1.5, 2])})
    live.advance(0.5)
    write_recording(recording_of(live, "quay.chal"), tmp_path / "quay.jsonl")
    assert read_recording(tmp_path / "quay.jsonl") == recording_of(live, "quay.chal")
    (tmp_path / "log").write_text("\n".join(log_lines(live.log)))
    run = CliRunner().invoke
    names = [str(tmp_path / n) for n in ("quay.chal", "quay.jsonl")]
    done = run(cli, ["replay", *names, "--expect", str(tmp_path / "log"), "--picture", str(tmp_path / "a.png")])
    assert done.exit_code == 0 and (tmp_path / "a.png").stat().st_size > 500, done.output
    lines = (tmp_path / "log").read_text().splitlines()
    lines[4] = lines[4].replace("100", "101")
    (tmp_path / "log").write_text("\n".join(lines))
    done = run(cli, ["replay", *names, "--expect", str(tmp_path / "log")])
    assert done.exit_code == 1 and "line 5: " in done.output
    assert (
        first_difference(["a"], ["a", "b"])
        and first_difference(["a", "b"], ["a"])
        and not first_difference(["a"], ["a"])
    )
    good = (tmp_path / "quay.jsonl").read_text().splitlines()
    for n, line, said in [
        (0, "{}", "no recording"),
        (0, '{"chalcedon recording": 2}', "no recording"),
        (2, "nonsense", ":3"),
        (2, '{"frame": 0, "move": {"x": 1, "y": 2}}', "Steps count from 1"),
        (2, '{"frame": 1, "mve": {"x": 1, "y": 2}}', "Did you mean move?"),
        (2, '{"frame": 1, "move": {"x": 1e99, "y": 2}}', "move has no x"),
        (2, '{"frame": 1, "down": {"x": 1, "y": 2, "button": 1000000}}', "no number of a button"),
        (5, '{"frame": 1, "keydown": {"key": "a"}}', "comes after"),
        (2, '{"frame": 1, "input": {"name": "ebb", "value": 1}}', "no input"),
        (2, '{"frame": 1, "input": {"name": "tide", "value": 9}}', "too large"),
        (2, '{"frame": 1, "focus": {"target": "nobody"}}', "no shape nobody"),
    ]:
        (tmp_path / "bad.jsonl").write_text("\n".join([*good[:n], line, *good[n + 1 :]]))
        with pytest.raises(ChalcedonError) as problem:
            replay(scene, read_recording(tmp_path / "bad.jsonl"))
        assert said in str(problem.value), str(problem.value)


def test_a_clock_goes_anywhere_at_once_where_nothing_remembers():
    scene = Scene([Circle(id="hand", at=(F("time"), 0))])
    live = Live(scene)
    live.seek(900_000)
    assert live.value("hand", "at") == (900_000, 0)
    live.seek(2)
    assert live.value("hand", "at") == (2, 0) and live.frame == 120
    scene["hand"].at = (F("grow(1)"), 0)
    live.reset()
    with pytest.raises(ValueProblem, match="more than 600 s"):
        live.seek(900_000)
    live.seek(3)
    assert live.value("hand", "at")[0] == pytest.approx(3, abs=0.02)
