"""The controls of a scene's inputs, each by hand."""

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from chalcedon.formula import Formula

Key, Mod, Left = Qt.Key, Qt.KeyboardModifier, Qt.MouseButton.LeftButton


def control(desk, name, kind, value, **said):
    desk.session.scene.inputs.add(name, value, kind, **said)
    desk.session.flush()
    strip = desk.w.living.strip
    strip.refresh()
    return strip.controls[name], lambda: desk.session.scene.inputs[name]


def wheel(widget, turn):
    at = QPointF(widget.width() / 2, widget.height() / 2)
    none = Qt.MouseButton.NoButton
    phase = Qt.ScrollPhase.NoScrollPhase
    where = QPointF(widget.mapToGlobal(at.toPoint()))
    QApplication.sendEvent(
        widget, QWheelEvent(at, where, QPoint(), QPoint(0, turn), none, Mod.NoModifier, phase, False)
    )


def test_a_number_by_its_slider_wheel_keys_and_typed(desk):
    made, value = control(desk, "tide", "number", 3, low=-10, high=10, step=0.5)
    slide, steps = made.slide, len(desk.session.scene.history.done)
    QTest.mousePress(slide, Qt.MouseButton.RightButton, Mod.NoModifier, QPoint(6, 12))
    QTest.mouseMove(slide, QPoint(98, 12))
    QTest.mouseRelease(slide, Qt.MouseButton.RightButton, Mod.NoModifier, QPoint(98, 12))
    assert value() == 3, "only the left button drags"
    for x, expected in ((6, -10), (52, 0), (29, -5), (98, 10), (104, 10), (0, -10)):
        QTest.mouseClick(slide, Left, Mod.NoModifier, QPoint(x, 12))
        assert value() == expected and made.entry.text() == str(expected).replace("-", "−")
    assert len(desk.session.scene.history.done) == steps + 5, "where it is already nothing is done"
    QTest.mouseMove(slide, QPoint(60, 12))
    assert value() == -10, "let go"
    one, ten = Mod.NoModifier, Mod.ShiftModifier
    for key, mods, expected in (
        (Key.Key_Right, one, -9.5), (Key.Key_Up, one, -9), (Key.Key_Left, one, -9.5), (Key.Key_Down, one, -10),
        (Key.Key_Right, ten, -5), (Key.Key_Up, ten, 0), (Key.Key_Down, ten, -5), (Key.Key_End, one, 10),
        (Key.Key_Home, one, -10),
    ):  # fmt: skip
        QTest.keyClick(slide, key, mods)
        assert value() == expected, key
    assert len(desk.session.scene.history.done) == steps + 6, "keys one after another are one step"
    wheel(slide, 120)
    wheel(slide, 120)
    wheel(slide, -120)
    assert value() == -9.5
    desk.enter(made.entry, "2*3+1")
    assert value() == 7 and made.entry.text() == "7"
    done = len(desk.session.scene.history.done)
    QTest.keyClick(made.entry, Key.Key_Return)
    assert len(desk.session.scene.history.done) == done


@pytest.mark.parametrize(("text", "says"), [("7*", "not a number"), ("300", "10"), ("300abc", "not a number")])
def test_a_number_that_can_not_be_leaves_the_old_one_and_is_said(desk, text, says):
    made, value = control(desk, "tide", "number", 3, low=-10, high=10)
    desk.enter(made.entry, text)
    assert value() == 3 and says in desk.said
    assert made.entry.text() == "3", "at once"


@pytest.mark.parametrize(
    ("value", "low", "high", "expected"),
    [(3, None, None, (0, 6)), (-4, None, None, (-8, 8)), (0, None, None, (0, 1)), (3, 2, None, (2, 6)),
     (3, None, 5, (0, 5)), (30, 29.5, 31, (29.5, 31)), (0.2, None, None, (0, 1))],
)  # fmt: skip
def test_a_slider_without_limits_goes_around_the_value(desk, value, low, high, expected):
    made, now = control(desk, "tide", "number", value, low=low, high=high)
    assert made.limits == expected
    QTest.mouseClick(made.slide, Left, Mod.NoModifier, QPoint(98, 12))
    assert now() == expected[1]
    QTest.keyClick(made.slide, Key.Key_Left)
    fine = expected[1] - now()
    assert 99 <= (expected[1] - expected[0]) / fine <= 1001, "a key is a hundredth of the way or less"


def test_a_switch_and_choices(desk):
    made, value = control(desk, "lamp", "switch", False)
    assert made.button.text() == "off"
    made.button.click()
    assert value() is True and made.button.text() == "on" and made.button.isChecked()
    few, chosen = control(desk, "flag", "choice", "red", choices=("red", "white", "blue", "none"))
    assert [w for w, b in few.buttons.items() if b.isChecked()] == ["red"]
    few.buttons["blue"].click()
    assert chosen() == "blue" and [w for w, b in few.buttons.items() if b.isChecked()] == ["blue"]
    many, taken = control(desk, "berth", "choice", "c", choices=tuple("abcde"))
    assert not many.buttons and many.box.currentText() == "c"
    many.box.activated.emit(4)
    assert taken() == "e" and many.box.currentText() == "e"
    desk.session.undo()
    assert many.box.currentText() == "c"


def test_a_text_is_one_step_and_a_colour_comes_from_the_picker(desk):
    made, value = control(desk, "name", "text", "Heron")
    steps = len(desk.session.scene.history.done)
    made.entry.setFocus()
    made.entry.selectAll()
    QTest.keyClicks(made.entry, "Tern")
    assert value() == "Tern" and len(desk.session.scene.history.done) == steps + 1
    chip, paint = control(desk, "canvas_colour", "colour", "#f3ecdc")
    before = chip.chip.icon().pixmap(18).toImage()
    chip.chip.click()
    chip.picker.picked.emit("#204060")
    assert paint() == "#204060" and chip.chip.icon().pixmap(18).toImage() != before
    chip.picker.close()


@pytest.mark.parametrize("up", [False, True])
def test_a_point_on_a_pad_that_stands_for_the_page(desk, up):
    if up:
        desk.session.scene.y_axis = "up"
    made, value = control(desk, "buoy", "point", (100, 50))
    pad, (width, height) = made.pad, desk.session.scene.size
    assert made.entry.text() == "100, 50"
    QTest.mousePress(pad, Left, Mod.NoModifier, QPoint(pad.width() // 2, 0))
    assert value() == (width / 2, height if up else 0)
    desk._move(pad, QPoint(pad.width() * 2, pad.height() // 4), Mod.NoModifier)
    assert value() == (width, height * (0.75 if up else 0.25)), "no farther than the page"
    QTest.mouseRelease(pad, Left, Mod.NoModifier, QPoint(0, 0))
    desk._move(pad, QPoint(3, 3), Mod.NoModifier)
    assert value() == (width, height * (0.75 if up else 0.25)), "let go"
    desk.session.undo()
    assert value() == (100, 50), "one step for the whole drag"
    one, ten = Mod.NoModifier, Mod.ShiftModifier
    for key, mods, expected in (
        (Key.Key_Left, one, (99, 50)), (Key.Key_Right, ten, (109, 50)),
        (Key.Key_Up, one, (109, 51 if up else 49)), (Key.Key_Down, ten, (109, 41 if up else 59)),
    ):  # fmt: skip
        QTest.keyClick(pad, key, mods)
        assert value() == expected
    desk.enter(made.entry, "12*2; -7")
    assert value() == (24, -7) and made.entry.text() == "24, −7"
    for text, says in (("5", "is not a point"), ("1, 2, 3", "not a point"), ("4, x", "only numbers")):
        desk.enter(made.entry, text)
        assert value() == (24, -7) and says in desk.said


def test_one_input_drives_several_values(desk):
    desk.session.select([desk["moon"]])
    desk.w.ledger.keys.focus_property("radius")
    desk.w.run_command("live.make_input")
    panel = desk.w.living.panel
    assert "radius" in desk.session.scene.inputs and panel.isVisible()
    entry = panel.rows["radius"]["name"]
    entry.setText("swell")
    entry.editingFinished.emit()
    assert desk["moon"].stated("radius").text == "swell" and desk["moon"].radius == 50
    panel.close()
    for id, text in (("hull", "swell * 2"), ("sail", "swell")):
        desk.session.scene.set(desk[id], "opacity", Formula(f"{text} / 200", 0.5))
    desk.session.flush()
    control = desk.w.living.strip.controls["swell"]
    QTest.mousePress(control.slide, Qt.MouseButton.LeftButton, Mod.NoModifier, QPoint(6, 12))
    QTest.mouseMove(control.slide, QPoint(50, 12))
    QTest.mouseMove(control.slide, QPoint(98, 12))
    QTest.mouseRelease(control.slide, Qt.MouseButton.LeftButton, Mod.NoModifier, QPoint(98, 12))
    high = desk.session.scene.inputs.spec("swell").high
    assert desk["moon"].radius == high and desk["sail"].opacity == min(1, high / 200)
    desk.session.undo()
    assert desk["moon"].radius == 50, "one step for the whole drag"
    panel.refresh()
    panel.rows["swell"]["remove"].click()
    assert "swell" not in desk.session.scene.inputs and desk["moon"].stated("radius") == 50
    assert desk["sail"].stated("opacity") == 0.25, "what read it states what it came to"
    for kind in panel.add:
        panel.make(kind)
    assert len(desk.session.scene.inputs) == 6 == len(desk.w.living.strip.controls)
