"""Formulas say what is so at each step, and what no longer is, without a step's delay."""

import pytest

from chalcedon.formula import Formula as F
from chalcedon.live import Live
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Rect, Scene

SIGNS = {
    "pressed key": ("key('ArrowLeft')", lambda live: live.key_down("ArrowLeft"), lambda live: live.key_up("ArrowLeft")),
    "another key": ("key('a') and not key('b')", lambda live: live.key_down("a"), lambda live: live.key_down("b")),
    "pointer across": (
        "pointer.x > 300",
        lambda live: live.pointer_move(310, 5),
        lambda live: live.pointer_move(290, 5),
    ),
    "pointer down the page": (
        "pointer.y > 300",
        lambda live: live.pointer_move(9, 310),
        lambda live: live.pointer_move(9, 290),
    ),
    "button": (
        "pointer.down",
        lambda live: live.pointer_down(300, 300),
        lambda live: live.pointer_up(300, 300),
    ),
    "inside": ("pointer.inside", lambda live: live.pointer_move(300, 300), lambda live: live.pointer_leave()),
    "pressure": (
        "pointer.pressure > 0.5",
        lambda live: live.pointer_move(5, 5, kind="pen", pressure=0.75),
        lambda live: live.pointer_move(5, 5, kind="pen", pressure=0.25),
    ),
    "hovered": (
        "disc.hovered",
        lambda live: live.pointer_move(100, 100),
        lambda live: live.pointer_move(300, 300),
    ),
    "pressed": (
        "disc.pressed",
        lambda live: live.pointer_down(100, 100),
        lambda live: live.pointer_up(100, 100),
    ),
    "dragged": (
        "disc.dragged",
        lambda live: (live.pointer_move(100, 100), live.pointer_down(100, 100), live.pointer_move(140, 100)),
        lambda live: live.pointer_up(140, 100),
    ),
    "input": ("tide > 0.5", lambda live: live.set_input("tide", 0.7), lambda live: live.set_input("tide", 0.3)),
    "time": ("0.9 < time < 1.9", lambda live: live.advance(1.0), lambda live: live.advance(1.0)),
    "frame": ("frame % 2 == 1", lambda live: None, lambda live: None),
}


def test_what_can_not_come_in_is_refused_at_the_door():
    live = Live(Scene([Circle(id="disc", radius=30)]))
    for come, said in (
        (lambda: live.pointer_down(1, 2, -1), "-1 is no button"),
        (lambda: live.pointer_up(1, 2, 0, -1), "-1 is no pointer"),
        (lambda: live.pointer_move(1, 2, 1.5), "1.5 is no pointer"),
        (lambda: live.try_response("disc", -1), "-1 is no number"),
        (lambda: live.pointer_move(float("nan"), 2), "nan, 2 is no place"),
        (lambda: live.wheel(2, float("inf"), 3), "2, inf is no place"),
    ):
        with pytest.raises(ChalcedonError, match=said):
            come()
    live.advance()
    assert not live.faults


@pytest.mark.parametrize("name", SIGNS)
def test_what_is_so_is_said_at_once_and_so_is_its_end(name):
    text, begins, ends = SIGNS[name]
    scene = Scene([Circle(id="disc", at=(100, 100), radius=30, dragging="free"), Rect(id="sign")], size=(600, 400))
    scene.inputs.add("tide", 0.3)
    scene["sign"].opacity = F(f"1 if {text} else 0.25")
    live = Live(scene)
    seen = [live.value("sign", "opacity")]
    for act in (begins, ends):
        act(live)
        live.advance()
        seen.append(live.value("sign", "opacity"))
    assert seen == [0.25, 1, 0.25] and not live.faults
