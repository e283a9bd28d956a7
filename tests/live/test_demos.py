"""The scenes that ship, alive: what they do is what their logs say, and what their parts promise."""

import pytest

from chalcedon.demos import demo_names, demo_path, demo_scene
from chalcedon.live import Live
from chalcedon.live.recording import first_difference, log_lines, read_recording, replay


@pytest.mark.parametrize("name", demo_names())
def test_demos_run_as_their_logs_say(name):
    path = demo_path(name)
    live = replay(demo_scene(name), read_recording(path.with_suffix(".jsonl")))
    assert live.faults == [] and live.display.formulas.problems == []
    assert first_difference(log_lines(live.log), path.with_suffix(".log").read_text().splitlines()) == ""


def test_the_panel_of_the_greenhouse_does_what_its_buttons_say():
    live = Live(demo_scene("greenhouse"))

    def middle(id):
        x0, y0, x1, y1 = live.display.node(live.scene[id]).bounds()
        return (x0 + x1) / 2, (y0 + y1) / 2

    def warmth():
        return live.value("mercury", "size")[1] / 4

    live.advance(3)
    at_first = warmth()
    live.pointer_move(*middle("draw_curtain"))
    live.advance()
    assert live.value("hint", "content") == "Keeps the sun off; the house cools down."
    live.click(*middle("draw_curtain"))
    live.advance(6)
    assert live.inputs["shade"] and warmth() < at_first - 5 and live.value("curtain", "size")[1] > 160
    damp = live.value("damp", "size")[1]
    live.click(*middle("water"))
    live.advance(3)
    assert live.inputs["watering"] and live.value("damp", "size")[1] > damp + 20
    live.advance(2)
    assert not live.inputs["watering"], "four seconds are over"
    live.click(*middle("keep_warmth"))
    live.inputs["shade"], live.inputs["sun"], live.inputs["outside"] = False, 100, 25
    live.advance(8)
    assert live.inputs["vents"] == 45 and live.value("state", "content") == "too warm"
    assert "alarm" in [event.name for event in live.log]
    x, y = middle("most_mark")
    live.pointer_move(x, y)
    live.pointer_down(x, y)
    live.pointer_move(x + 40, y - 48)
    live.pointer_up(x + 40, y - 48)
    live.advance()
    assert live.inputs["most"] == 40 and middle("most_mark")[0] == x, "along y only, and no farther than its limit"
