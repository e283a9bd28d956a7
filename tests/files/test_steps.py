"""Edits as data: what makes one scene of another, and steps done again in another process."""

import subprocess
import sys

import pytest
from acting import act, walks
from hypothesis import HealthCheck, given, settings
from strategies import scenes

from chalcedon.evaluate import DisplayList
from chalcedon.files import read_scene, scene_bytes
from chalcedon.files.steps import Recorder, line_of, play
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Group, Scene
from chalcedon.scene.diff import diff
from chalcedon.scene.edits import Insert, Move, Remove, SetValue


def twin(scene):
    return read_scene(scene_bytes(scene)).scene


@settings(suppress_health_check=[HealthCheck.too_slow], max_examples=60)
@given(scenes, walks(), walks())
def test_a_difference_makes_one_scene_of_another(a, acts, more):
    for one in more:
        act(a, *one)
    b = twin(a)
    for one in acts:
        act(b, *one)
    before, after = scene_bytes(a), scene_bytes(b)
    kept = {s.id: s for s in a.walk()}
    display = DisplayList(a)
    edits = diff(a, b)
    assert not edits or before != after, "nothing to do when both state the same"
    a.apply(edits, "Make it the other")
    display.update()
    assert scene_bytes(a) == after == scene_bytes(b) and a.equals(b)
    assert [n.shape.id for n in display.order] == [n.shape.id for n in DisplayList(b).order]
    assert all(s is kept[s.id] for s in a.walk() if s.id in kept and type(s) is type(kept[s.id])), "the same objects"
    if edits:
        a.undo()
    assert scene_bytes(a) == before


def test_of_a_kind_that_is_not_known_it_is_told_which():
    a, b = (
        read_scene(b'{"chalcedon": 1, "shapes": [{"kind": "%s", "id": "toy", "span": 4}]}' % kind).scene
        for kind in (b"kite", b"sail")
    )
    a.apply(diff(a, b), "Make it the other")
    assert scene_bytes(a) == scene_bytes(b) and b"sail" in scene_bytes(a)
    assert diff(a, b) == []


def test_what_was_dragged_elsewhere_is_one_move():
    a = Scene([Circle(id=f"c{i}") for i in range(6)])
    b = twin(a)
    b.move(b["c1"], b.top, 4)
    assert [type(e) for e in diff(a, b)] == [Move]
    b["c2"].radius = 7
    b.remove(b["c5"])
    b.add(Group(id="g"))
    b.move(b["c0"], b["g"], 0)
    assert sorted(type(e).__name__ for e in diff(a, b)) == ["Insert", "Move", "Move", "Remove", "SetValue"]
    assert [e.about for e in diff(a, b) if isinstance(e, Insert | Remove | SetValue)] == ["c2", "g", "c5"]


@settings(suppress_health_check=[HealthCheck.too_slow], max_examples=40)
@given(scenes, walks())
def test_recorded_steps_played_on_a_copy_give_the_same_scene_and_history(scene, acts):
    copy = twin(scene)
    lines = []
    recorder = Recorder(scene, lines.append)
    for one in acts:
        act(scene, *one)
    recorder.close()
    for line in lines:
        play(copy, line_of(line))
    assert scene_bytes(copy) == scene_bytes(scene)
    names = [[s.name for s in h.done] for h in (scene.history, copy.history)]
    assert names[0] == names[1]
    while scene.undo():
        assert copy.undo() and scene_bytes(copy) == scene_bytes(scene)
    assert not copy.undo()


def test_steps_are_played_in_another_process(tmp_path):
    scene = Scene([Circle(id="moon", radius=20)])
    (tmp_path / "a.chal").write_bytes(scene_bytes(scene))
    with (tmp_path / "steps.jsonl").open("wb") as file:
        Recorder(scene, lambda step: file.write(line_of(step)))
        scene["moon"].radius = 30
        with scene.step("Put it in a group"):
            group = scene.add(Group(id="sky"))
            scene.move(scene["moon"], group, 0)
        scene.rename(scene["moon"], "luna")
    code = (
        "import sys, chalcedon; from chalcedon.files.steps import play;"
        "s = chalcedon.open(sys.argv[1]); [play(s, l) for l in open(sys.argv[2], 'rb')];"
        "s.undo(); s.redo(); chalcedon.save(s, sys.argv[1])"
    )
    args = [sys.executable, "-c", code, str(tmp_path / "a.chal"), str(tmp_path / "steps.jsonl")]
    subprocess.run(args, check=True)
    assert (tmp_path / "a.chal").read_bytes() == scene_bytes(scene)


@pytest.mark.parametrize(
    "line",
    [
        b"{", b"[]", b'{"step":"x","edits":[{"set":"ghost","name":"radius","old":1,"new":2}]}',
        b'{"step":"x","edits":[{"set":"moon","name":"radius","old":20,"new":2},{"set":"moon","name":"hue","old":1,"new":2}]}',
        b'{"step":"x","edits":[{"set":"moon","name":"radius","old":20,"new":"wide"}]}',
        b'{"step":"x","edits":[{"move":"moon","from":"","old_index":7,"in":"","index":0}]}',
        b'{"step":"x","edits":[{"move":"moon","from":"","old_index":0,"in":"moon","index":0}]}',
        b'{"step":"x","edits":[{"insert":{"kind":"circle","id":"moon"},"in":"","index":0}]}',
        b'{"step":"x","edits":[{"rename":"moon","new":"moon"}]}', b'{"step":"x","edits":[7]}',
        b'{"step":"x","edits":[{"set":"moon","name":"radius","old":1,"new":2}]}', b'{"undone":"x"}',
    ],
)  # fmt: skip
def test_a_step_that_does_not_fit_is_refused_and_changes_nothing(line):
    scene = Scene([Circle(id="moon", radius=20)])
    before = scene_bytes(scene)
    with pytest.raises(ChalcedonError):
        play(scene, line)
    assert scene_bytes(scene) == before and not scene.history.done
