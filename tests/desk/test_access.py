"""What assistive technology sees and does, through Qt's own interfaces."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QAccessible, QAccessibleActionInterface
from shiboken6 import getCppPointer

from chalcedon.desk import window as windows
from chalcedon.geometry.boxes import union
from chalcedon.scene import Circle, Rect, Scene
from fuzz.scenes import random_scene
from tests.greenhouse import greenhouse

Role, Said, Key, Kind = QAccessible.Role, QAccessible.Text, Qt.Key, QAccessible.InterfaceType
Act = QAccessibleActionInterface


def interface(widget):
    return QAccessible.queryAccessibleInterface(widget)


def children(part):
    return [part.child(i) for i in range(part.childCount())]


def name(part):
    return part.text(Said.Name)


def row(desk, id):
    return next(r for r in children(interface(desk.w.ledger)) if name(r).startswith(f"{id},"))


def cell(desk, id, called):
    return next(c for c in children(row(desk, id)) if name(c) == called)


def do(part, action):
    assert action in part.actionInterface().actionNames()
    part.actionInterface().doAction(action)


def test_every_row_has_its_name_its_sentence_and_what_is_seen_in_it(desk):
    ledger = interface(desk.w.ledger)
    assert ledger.role() == Role.Tree and name(ledger) == "Ledger"
    rows = children(ledger)
    assert [name(r) for r in rows] == [
        "Scene", "sky, rect", "wall, rect", "boat, group", "hull, rect", "sail, polyline", "moon, circle", "rope, line",
    ]  # fmt: skip
    moon = row(desk, "moon")
    assert moon.text(Said.Description) == "circle 100 across, centred at 600, 100" and moon.role() == Role.TreeItem
    assert moon.parent() is ledger and ledger.indexOfChild(moon) == 6
    assert {name(c): c.text(Said.Value) for c in children(moon)} == {
        "id": "moon", "at x": "600", "at y": "100", "radius": "50", "fill": "#f1e4bd", "visible": "yes",
    }  # fmt: skip
    assert row(desk, "boat").state().expandable and row(desk, "sky").state().selected == 0
    do(row(desk, "boat"), Act.toggleAction())
    assert row(desk, "boat").state().collapsed and len(children(ledger)) == 6
    where = moon.rect().center()
    assert ledger.childAt(where.x(), where.y()) is moon


def test_numbers_are_read_turned_and_typed_and_marks_switched(desk):
    do(row(desk, "moon"), Act.pressAction())
    assert desk.chosen == ["moon"] and row(desk, "moon").state().selected
    radius = next(c for c in children(row(desk, "moon")) if name(c) == "radius" and c.actionInterface() is not None)
    number = radius.valueInterface()
    assert radius.role() == Role.SpinBox and number.currentValue() == 50 and number.minimumValue() == 0
    do(radius, Act.increaseAction())
    assert desk["moon"].radius == 51
    number.setCurrentValue(62.5)
    assert desk["moon"].radius == 62.5 and radius.text(Said.Value) == "62.5"
    radius.setText(Said.Value, "2 * 20")
    assert desk["moon"].radius == 40
    radius.setText(Said.Value, "-3")
    assert desk["moon"].radius == 40 and "negative" in desk.said
    closed = next(c for c in children(row(desk, "rope")) if c.valueInterface() is not None)
    assert Act.setFocusAction() not in closed.actionInterface().actionNames(), "only the opened row has a focus"
    assert not closed.state().focusable
    opened = [c for c in children(row(desk, "moon")) if name(c) == "radius"][-1]
    assert Act.setFocusAction() in opened.actionInterface().actionNames() and opened.state().focusable
    assert not radius.state().checkable and radius.state().editable and not radius.state().readOnly
    visible = cell(desk, "moon", "visible")
    assert visible.role() == Role.CheckBox and visible.state().checked
    do(visible, Act.pressAction())
    assert not desk["moon"].visible and not visible.state().checked
    cell(desk, "moon", "id").setText(Said.Value, "luna")
    assert "luna" in desk.session.scene and name(row(desk, "luna")) == "luna, circle"


def test_the_cell_in_focus_is_the_one_the_keys_lead_to(desk):
    desk.session.select([desk["moon"]])
    desk.w.ledger.setFocus()
    ledger = interface(desk.w.ledger)
    assert ledger.focusChild() is row(desk, "moon")
    seen = []
    for _ in range(4):
        desk.key(Key.Key_Tab)
        focus = ledger.focusChild()
        assert focus.state().focused and focus.rect().isValid()
        seen.append(name(focus))
    assert seen == ["at x", "at y", "radius", "fill"]
    do(next(c for c in children(row(desk, "moon")) if name(c) == "opacity"), Act.pressAction())
    opened = ledger.focusChild()
    assert (name(opened), opened.role(), opened.text(Said.Value)) == ("opacity", Role.SpinBox, "1")


def test_handles_have_names_and_move_without_a_pointer(desk):
    desk.session.select([desk["moon"]])
    canvas = interface(desk.w.canvas)
    desk.w.canvas.setFocus()
    grips = [c for c in children(canvas) if c.role() == Role.Grip]
    assert [name(g) for g in grips] == [f"radius of moon, handle {i}" for i in (1, 2, 3, 4)]
    assert grips[0].text(Said.Value) == "650, 100"
    do(grips[0], "move right")
    do(grips[0], "move right")
    assert desk["moon"].radius == 52 and desk.session.scene.undo_name == "Change radius of moon"
    desk.session.undo()
    assert desk["moon"].radius == 50, "steps on end are one step"
    assert canvas.focusChild() is next(c for c in children(canvas) if name(c) == "moon, circle")
    desk.session.select([desk["moon"], desk["wall"]])
    names = [name(c) for c in children(canvas) if c.role() == Role.Grip]
    assert "size of 2 shapes, right" in names and "turn 2 shapes" in names and "mirror 2 shapes left to right" in names
    right = next(c for c in children(canvas) if name(c) == "size of 2 shapes, right")
    do(right, "move left")
    assert desk["moon"].at[0] < 600
    assert not grips[0].isValid() and name(grips[0]) == "", "what is gone says nothing"


def test_a_handle_of_several_shapes_moves_its_own_sides_without_a_pointer(desk):
    desk.session.scene.add(Rect(420, 180, 90, 150, id="shed"))
    desk.session.flush()
    desk.session.select([desk["shed"], desk["wall"]])
    canvas, sides = interface(desk.w.canvas), ("left", "top", "right", "bottom")

    def box():
        return union([desk[id].bounds() for id in ("shed", "wall")])

    tried = 0
    for grip in [c for c in children(canvas) if name(c).startswith("size of 2 shapes")]:
        told = name(grip).rpartition(", ")[2].split()
        for way, axis, by in (("move right", 0, 1), ("move left", 0, -1), ("move up", 1, -1), ("move down", 1, 1)):
            before = box()
            do(grip, way)
            moved = {s for s, a, b in zip(sides, before, box(), strict=True) if abs(a - b) > 1e-2}
            expected = {s for s in told if sides.index(s) % 2 == axis}
            assert moved == expected, (name(grip), way)
            for side in moved:
                i = sides.index(side)
                assert box()[i] - before[i] == pytest.approx(by, abs=1e-2)
            tried += len(moved)
            if moved:
                desk.session.undo()
    assert tried == 24, "four corners of two sides, four edges of one, there and back"


def test_shapes_on_the_canvas_are_told_front_to_back_and_found_where_they_are(desk):
    canvas = interface(desk.w.canvas)
    shapes = [name(c) for c in children(canvas) if c.role() == Role.Graphic]
    assert shapes == ["rope, line", "moon, circle", "sail, polyline", "hull, rect", "wall, rect", "sky, rect"]
    spot = desk.w.canvas.mapToGlobal(desk.spot(600, 100))
    moon = canvas.childAt(spot.x(), spot.y())
    assert name(moon) == "moon, circle" and moon.rect().contains(spot)
    do(moon, Act.pressAction())
    assert desk.chosen == ["moon"] and moon.state().selected and moon.state().focused


def answers_what_it_may_be_asked(part):
    """Qt asks each part for every interface there is, and goes to the address that it is given."""
    _, actions, values = getCppPointer(part)
    known = {Kind.ActionInterface: actions if part.acts() else 0}
    known[Kind.ValueInterface] = values if part.number() is not None else 0
    assert all(int(part.interface_cast(kind)) == known.get(kind, 0) for kind in Kind)
    assert part.textInterface() is None and part.tableCellInterface() is None
    assert (part.actionInterface() is None) == (not part.acts())
    assert (part.valueInterface() is None) == (part.number() is None)


@pytest.mark.parametrize("make", [greenhouse, lambda: random_scene(3, 14, wild=1.0), Scene])
def test_whatever_is_open_every_part_has_a_name_a_role_and_a_place_to_ask_for(desk, make):
    desk.session.new(make())
    for shape in [None, *desk.session.scene.walk()]:
        desk.session.select([shape] if shape is not None else [])
        for widget in (desk.w.ledger, desk.w.canvas):
            for part in children(interface(widget)):
                assert name(part) and part.isValid() and part.rect() is not None
                assert part.window() is desk.w.windowHandle()
                answers_what_it_may_be_asked(part)
                for inner in children(part):
                    answers_what_it_may_be_asked(inner)
                    assert name(inner), inner.role()
                    assert inner.parent() is part and inner.state() is not None and inner.rect().width() > 0
                    assert inner.role() != Role.SpinBox or inner.text(Said.Value)


def test_parts_of_what_is_gone_and_of_closed_windows_are_invalid(desk):
    moon, part = desk["moon"], row(desk, "moon")
    inner = children(part)
    desk.session.scene.remove(moon)
    desk.session.flush()
    assert not part.isValid() and part.text(Said.Name) == "" and part.childCount() == 0 and part.state().invalid
    assert not any(c.isValid() for c in inner)
    desk.session.undo()
    assert part.isValid() and name(part) == "moon, circle"
    desk.session.new(Scene([Circle(id="moon")]))
    assert not part.isValid(), "another scene's moon is another"
    assert interface(desk.w.ledger).childAt(-5000, -5000) is None


def test_windows_that_were_asked_come_and_go(desk, qtbot):
    for _ in range(12):
        other = desk.w.another()
        parts = children(interface(other.ledger)) + children(interface(other.canvas))
        assert all(name(p) for p in parts)
        desk.close_others()
        assert not any(p.isValid() for p in parts), "their widgets are gone"
    assert name(interface(desk.w.ledger)) == "Ledger" and not windows.others
