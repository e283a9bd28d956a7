"""What is typed into cells of every sort: each text does one thing, or is answered, and undo takes it back."""

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from recorded import assert_as_recorded

from chalcedon.scene import Circle, Group, Polyline, Rect, Scene, Text
from chalcedon.source import print_shapes

NUMBERS = (
    *("12.5", "1e3", "12,5", "12 px", "+5", "-5", "* 2", "/ 0", "(1 + 2) * 4", "time * 2", "= 7", "=", "nobody.at.x"),
    *("12 +", "", "none", "1e999", "'a'", "1 if lit else 2", "\u22124"),
)
FEW = ("12", "-3", "* 2", "wave(2, 0, 10)", "2 ** 8", "yes")
WORDS = (
    *(" two  words ", "", "none", "7", "time", "= time", "'a' + 'b'", "f'{time:.1f} s'", "f'{", "<b>bold</b>", "buoy"),
    *("nobody", "a\\nb", "'a' if lit else 'b'", "text(1)"),
)
PAINTS = (
    *(
        "RED",
        "#abc",
        "#12345",
        "tar",
        "var(--tar)",
        "rgb(1 2 3 / 50%)",
        "hsl(200, 50, 50)",
        "hsl(time, 50, 50)",
        "none",
    ),
    *(
        "linear(90, red, blue)",
        "linear(",
        "nowhere",
        "'red' if lit else 'blue'",
        "mix(red, blue, 0.5)",
        "7",
        "time",
        "",
    ),
)
FLAGS = ("yes", "False", "ON", "off", "", "1", "lit", "time > 3", "= lit", "maybe", "3 +")
CHOICES = ("none", "round", "center", "top left", "top-left", "0.25, 0.75", "nowhere", "", "'round' if lit else 'butt'")
CELLS = {
    "wall": {
        "at 0": NUMBERS, "size 1": FEW, "opacity": FEW, "stroke_width": FEW, "dash 0": FEW,
        "corners 0": FEW, "also centre 0": NUMBERS, "steps 0 0": FEW,
        "fill": PAINTS, "visible": FLAGS,
        "label": WORDS, "id": WORDS,
        "blend": CHOICES, "join": CHOICES, "anchor": CHOICES,
    },
    "buoy": {"radius": FEW},
    "sail": {"points 1 0": FEW},
    "boat": {"clip": WORDS},
    "sign": {"content": WORDS},
    "wall buoy": {
        "at 0": NUMBERS, "opacity": FEW, "fill": PAINTS[::3], "visible": FLAGS,
        "blend": CHOICES, "anchor": CHOICES,
    },
}  # fmt: skip


def scene():
    out = Scene(
        [
            Rect(id="wall", at=(100, 100), size=(200, 120), fill="#dca443", stroke="var(--tar)", stroke_width=2,
                 dash=(6, 3), steps=[{"rotate": 30}]),
            Group(id="boat", at=(400, 300), children=[
                Polyline(id="sail", points=[(0, 0), (60, 0), (0, -90)], closed=True, fill="#f3ecdc"),
                Rect(id="hull", size=(120, 40)),
            ]),
            Circle(id="buoy", at=(600, 100), radius=50, fill="#f1e4bd"),
            Text("Low quay", id="sign", at=(50, 50)),
        ], size=(800, 500))  # fmt: skip
    out.palette = {"tar": "#22292e"}
    out.inputs = {"lit": {"switch": True}}
    return out


def test_what_is_typed_into_a_cell_does_one_thing_or_is_answered(desk):
    session, ledger = desk.session, desk.w.ledger
    session.new(scene())

    def cell_of(shapes, what):
        words = what.split()
        name = " ".join(w for w in words if not w.isdigit())
        path = tuple(int(w) for w in words if w.isdigit())
        ledger.unfold(ledger.several or shapes[0], "or as" if name.startswith("also") else name)
        cells = ledger.row_cells(ledger.open_index())
        roles = ("number", "text", "flag", "choice", "id")
        found = [c for c in cells if c.name == name and c.path == path and c.role in roles]
        found = [c for c in found if c.y > 0 or name == "id"]
        assert found, (what, [(c.name, c.path, c.role) for c in cells if c.name == name])
        return found[0]

    def lines():
        for id, cells in CELLS.items():
            shapes = [desk[i] for i in id.split()]
            for what, texts in cells.items():
                yield f"== {id} {what}"
                for text in texts:
                    session.select(shapes)
                    before = print_shapes(session.scene.shapes).splitlines()
                    steps = len(session.scene.history.done)
                    ledger.acts.open_editor(cell_of(shapes, what))
                    editor = ledger.editor
                    editor.selectAll()
                    QTest.keyClick(editor, Qt.Key.Key_Delete)
                    QTest.keyClicks(editor, text) if text.isascii() else editor.insert(text)
                    said = [editor.mistake or editor._wrong]
                    QTest.keyClick(editor, Qt.Key.Key_Return)
                    assert ledger.editor is None
                    session.flush()
                    after = print_shapes(session.scene.shapes).splitlines()
                    done = len(session.scene.history.done) - steps
                    name = what.split()[0]
                    name = "at" if name == "also" else name
                    now = [s.id if name == "id" else s.stated(name) for s in shapes]
                    told = desk.said.replace(said[0], "...") if said[0] else desk.said
                    values = " & ".join(map(str, now)) if after != before else "-"
                    yield f"  {text!r}: {values}  {'  '.join(s for s in [*said, told] if s)}"
                    for _ in range(done):
                        session.undo()
                    session.flush()
                    desk.w.messages.hide()
                    assert done <= 1 and print_shapes(session.scene.shapes).splitlines() == before, (what, text, done)

    assert_as_recorded("typed", lines())
