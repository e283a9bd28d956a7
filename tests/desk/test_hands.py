"""What the pointer and the keys do to every sort of shape, as it was found right: handles dragged, shapes drawn, cells
changed from the keyboard, paints picked."""

import itertools

import pytest
from greenhouse import greenhouse
from PySide6.QtCore import QPointF, Qt
from PySide6.QtWidgets import QApplication
from recorded import assert_as_recorded, changed

from chalcedon.scene import Circle, Path, Polyline, Rect, Scene
from chalcedon.scene.shapes import MADE
from chalcedon.source import print_shapes

Key, Mod = Qt.Key, Qt.KeyboardModifier
WAYS = {"": Mod.NoModifier, "Shift": Mod.ShiftModifier, "Alt": Mod.AltModifier, "Ctrl": Mod.ControlModifier}


class Hand:
    """Tells what an act changed, and takes it back."""

    def __init__(self, desk, scene):
        self.desk = desk
        desk.session.new(scene, "greenhouse")
        QApplication.processEvents()  # the page is fitted
        desk.w.canvas.view.zoom = 1.0
        desk.w.canvas.view.place(40, 40)
        self.scene = desk.session.scene
        self.before = print_shapes(self.scene.shapes)

    def told(self):
        yield from ("        " + line for line in changed(self.before, print_shapes(self.scene.shapes)))
        if self.desk.said:
            yield f"        says: {self.desk.said}"
            self.desk.w.messages.dismiss()
        while self.scene.undo_name:
            self.scene.undo()
        self.desk.session.flush()
        assert print_shapes(self.scene.shapes) == self.before


def grips(desk):
    """The spots of the handles of what is selected, in widget px, by what they do."""
    tool = desk.w.canvas.tool
    start, handles = tool.handles()
    for h in handles:
        yield f"{h.role} at {h.raw[0]:.6g}, {h.raw[1]:.6g}", desk.w.canvas.view.to_widget(*start.scene_of(h.raw))
    yield "turn", tool.turn_stalk(start)[1:]


def test_handles_are_dragged_by_the_pointer(desk):
    def lines():
        hand = Hand(desk, greenhouse())
        canvas = desk.w.canvas
        for id in ("pane", "sun", "stalk", "flower", "dial", "draught", "sign", "vine", "bench"):
            desk.session.select([desk[id]])
            yield f"== {id}"
            for what, spot in list(grips(desk)):
                start = QPointF(*spot).toPoint()
                for word, mods in WAYS.items():
                    desk._drag(
                        canvas, [start, start + (QPointF(4, 3) * 1).toPoint(), start + QPointF(31, 17).toPoint()], mods
                    )
                    yield f"    {what} {word}"
                    yield from hand.told()
                    desk.session.select([desk[id]])
                desk._drag(canvas, [start, start + QPointF(9, 9).toPoint()], Mod.NoModifier, release=False)
                desk.type("64", canvas)
                yield f"    {what}, 64 typed: {canvas.tool.word}"
                desk.key(Key.Key_Return, widget=canvas)
                yield from hand.told()
                desk.session.select([desk[id]])

    assert_as_recorded("handles", lines())


@pytest.mark.parametrize("up", [False, True])
def test_kinds_are_drawn_by_the_pointer(desk, up):
    """Down to the right, and up to the left; also where y runs up."""

    def lines():
        way = {"y_axis": "up"} if up else {}
        hand = Hand(desk, Scene([Rect(id="bed", size=(300, 200), fill="#5b4636")], size=(640, 460), **way))
        canvas = desk.w.canvas
        for kind in MADE:
            if kind == "image":
                continue  # it asks for a file
            yield f"== {kind}"
            for (word, mods), (x, y) in itertools.product(WAYS.items(), ((183, 171), (40, 80))):
                canvas.set_kind(kind)
                desk.drag((120, 130), (126, 133), (x, y), mods=mods)
                if canvas.tool.held or canvas.kind:
                    desk.key(Key.Key_Return, widget=canvas)
                canvas.set_kind("")
                yield f"    dragged {'back ' if x < 120 else ''}{word}"
                yield from hand.told()

    assert_as_recorded("drawn-up" if up else "drawn", lines())


def test_cells_are_changed_from_the_keyboard(desk):
    def lines():
        hand = Hand(desk, greenhouse())
        ledger = desk.w.ledger
        for id in ("pane", "sun", "stalk", "flower", "dial", "draught", "sign", "vine", "bench", "hose"):
            desk.session.select([desk[id]])
            yield f"== {id}"
            desk.unfold_all(id)
            for cell in [c for c in ledger.row_cells(ledger.index_of(desk[id])) if c.live and c.y > 0]:
                for word, key, mods in (
                    ("Up", Key.Key_Up, Mod.NoModifier),
                    ("Shift+Down", Key.Key_Down, Mod.ShiftModifier),
                    ("Space", Key.Key_Space, Mod.NoModifier),
                    ("Delete", Key.Key_Delete, Mod.NoModifier),
                ):
                    desk.session.select([desk[id]])
                    ledger.setFocus()
                    ledger.focus_key = cell.key
                    ledger.keys.tell_focus()
                    desk.key(key, mods, ledger)
                    popup = QApplication.activePopupWidget()
                    if popup is not None:
                        popup.close()
                    if ledger.editor is not None:
                        desk.key(Key.Key_Escape, widget=ledger.editor)
                    told = list(hand.told())
                    if told:
                        yield f"    {cell.role} {cell.name}{list(cell.path) if cell.path else ''} {word}"
                        yield from told

    assert_as_recorded("cells", lines())


POINTS = {
    "Delete": (Key.Key_Delete, Mod.NoModifier),
    "Right": (Key.Key_Right, Mod.NoModifier),
    "Shift+Up": (Key.Key_Up, Mod.ShiftModifier),
    "Shift+S": (Key.Key_S, Mod.ShiftModifier),
    "Shift+C": (Key.Key_C, Mod.ShiftModifier),
    "Shift+X": (Key.Key_X, Mod.ShiftModifier),
    "Shift+Z": (Key.Key_Z, Mod.ShiftModifier),
}


def test_points_are_edited_by_pointer_and_keys(desk):
    shapes = [
        Path(id="vine", at=(40, 40), data="M0 0 Q60 -40 90 20 T150 60 A40 25 20 0 1 210 90 L240 40 Z"),
        Polyline(id="stalk", at=(40, 300), points=[(0, 0), (60, -60), (140, -20), (180, 40)], curve=0.6),
        Circle(id="pot", at=(400, 200), radius=30),
    ]

    def lines():
        hand = Hand(desk, Scene(shapes, size=(640, 460)))
        canvas = desk.w.canvas
        for id in ("vine", "stalk"):
            yield f"== {id}"
            count = sum(len(c.knots) for c in _editing(desk, id).contours())
            for i in range(count):
                for word, (key, mods) in POINTS.items():
                    tool = _editing(desk, id)
                    spot = _knot(tool, i)
                    desk._drag(canvas, [spot], Mod.NoModifier)
                    desk.key(key, mods, canvas)
                    yield f"    point {i} {word}"
                    yield from hand.told()
                for word, mods in WAYS.items():
                    spot = _knot(_editing(desk, id), i)
                    moved = [spot, spot + QPointF(5, 3).toPoint(), spot + QPointF(22, -14).toPoint()]
                    desk._drag(canvas, moved, mods)
                    yield f"    point {i} dragged {word}"
                    yield from hand.told()

    assert_as_recorded("points", lines())


def _editing(desk, id):
    desk.w.canvas.edit_points(desk[id])
    return desk.w.canvas.tool


def _knot(tool, i):
    start = tool._started()
    knots = [k for c in tool.contours() for k in c.knots]
    return tool._spot(start, knots[i]).toPoint()


@pytest.mark.parametrize("id", ["pane", "sun", "flower", "sign"])
def test_paints_are_picked(desk, id):
    def lines():
        hand = Hand(desk, greenhouse())
        for name in ("fill", "stroke"):
            for kind in ("none", "colour", "linear", "radial"):
                desk.session.select([desk[id]])
                desk.click_cell(id, "paint", name)
                picker = desk.w.ledger.acts.picker
                shown = [k for k, b in picker.kinds.items() if b.isEnabled()]
                picker.kinds[kind].click()
                yield f"{name} as {kind}, of {shown}"
                if kind in ("linear", "radial"):
                    stops = picker.stops
                    for key in (Key.Key_PageDown, Key.Key_Left, Key.Key_Plus, Key.Key_PageUp, Key.Key_Right):
                        desk.key(key, widget=stops)
                        yield f"    {key.name}: stop {stops.current} of {[s[0] for s in stops.stops]}"
                picker.close()
                yield from hand.told()

    assert_as_recorded(f"picked-{id}", lines())
