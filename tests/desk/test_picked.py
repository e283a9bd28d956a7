"""Paints chosen by hand: what a picker shows of each, and what each of its controls makes of it."""

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog
from recorded import assert_as_recorded

from chalcedon import Circle, Gradient, Group, Rect, Scene, Step
from chalcedon.craft.hold import Start
from chalcedon.desk.canvas.gradienthandles import gradient_of
from chalcedon.desk.picker.colorpicker import KINDS, ColorPicker
from chalcedon.formula import Formula
from chalcedon.scene.paints import PAINT, Pattern, Picture

Key = Qt.Key

PAINTS = {
    "none": None,
    "a colour": "#20406080",
    "one of the palette": "var(--tar)",
    "one that the palette lacks": "var(--gone, red)",
    "a formula": Formula("mix('red', 'blue', 0.5)", "#800080"),
    "a line of three": Gradient("linear", (0.1, 0.2, 0.7, 0.2), ((0, "white"), (0.5, "var(--tar)"), (1, "#00000080"))),
    "one stop": Gradient("radial", (0.5, 0.5, 0.3), ((0.25, "white"),), "reflect"),
    "a line in the scene": Gradient("linear", (10, 20, 10, 90), ((0, "red"), (0.4, "blue")), "repeat", "scene"),
    "a line that moves": Gradient(
        "linear",
        (0, Formula("time", 0.5), 1, 0),
        ((Formula("time / 2", 0.25), "red"), (0.75, Formula("hsl(time, 50, 50)", "#40bf40"))),
    ),
    "an image": Picture("net.png", "contain"),
    "a pattern": Pattern("knot", (Step("rotate", 30), Step("scale", 2, 2))),
    "a bent pattern": Pattern("knot", (Step("skew", 20, 0),)),
}


def page():
    return Scene(
        [
            Group(id="net", visible=False, children=[Circle(id="knot", radius=4, fill="var(--tar)")]),
            Rect(id="hull", size=(40, 20), fill="#b8482a", stroke="var(--tar)"),
        ],
        palette={"tar": "#22292e", "foam": "white"},
    )


def press(button):
    return lambda picker: button(picker).click()


def key(bar, *keys):
    def act(picker):
        for one in keys:
            QTest.keyClick(bar(picker), one)

    return act


def typed(field, text):
    def act(picker):
        field(picker).setFocus()
        field(picker).selectAll()
        QTest.keyClick(field(picker), Key.Key_Delete)
        QTest.keyClicks(field(picker), text)
        QTest.keyClick(field(picker), Key.Key_Tab)

    return act


def chosen(combo, word):
    def act(picker):
        box = combo(picker)
        box.setFocus()
        way = Key.Key_Up if box.findText(word) < box.currentIndex() else Key.Key_Down
        for _ in range(abs(box.findText(word) - box.currentIndex())):
            QTest.keyClick(box, way)

    return act


def dragged(bar, *offsets):
    """Pressed at the first of them, and moved to the others."""

    def act(picker):
        def spot(offset):
            return QPoint(round(6 + offset * (bar(picker).width() - 12)), bar(picker).height() // 3)

        QTest.mousePress(bar(picker), Qt.MouseButton.LeftButton, pos=spot(offsets[0]))
        for offset in offsets[1:]:
            QTest.mouseMove(bar(picker), spot(offset))
        QTest.mouseRelease(bar(picker), Qt.MouseButton.LeftButton, pos=spot(offsets[-1]))

    return act


def of_swatch(name):
    def button(picker):
        return next(b for b in picker.findChildren(type(picker.keep)) if b.accessibleName() == name)

    return press(button)


def in_turn(*acts):
    def act(picker):
        for one in acts:
            one(picker)

    return act


fields, stops, pattern = (lambda p: p.fields), (lambda p: p.stops), (lambda p: p.pattern)
ACTS = {
    **{f"kind {k}": press(lambda p, k=k: p.kinds[k]) for k in KINDS},
    "plane right and up": key(lambda p: p.fields.plane, Key.Key_Right, Key.Key_Up),
    "plane pressed": dragged(lambda p: p.fields.plane, 0.25),
    "hue left": key(lambda p: p.fields.hues, Key.Key_Left),
    "hue dragged": dragged(lambda p: p.fields.hues, 0.5, 0.75, 1.5),
    "opacity left twice": key(lambda p: p.fields.alphas, Key.Key_Left, Key.Key_Left),
    "rebeccapurple typed": typed(lambda p: p.text, "rebeccapurple"),
    "a formula typed": typed(lambda p: p.text, "hsl(time, 50, 50)"),
    "none typed": typed(lambda p: p.text, "none"),
    "swatch of the palette": of_swatch("foam"),
    "swatch of the scene": of_swatch("#b8482a"),
    "named": in_turn(lambda p: p.name.setText("brine"), press(lambda p: p.keep)),
    "named badly": in_turn(lambda p: p.name.setText("b rine"), press(lambda p: p.keep)),
    "changed everywhere": in_turn(press(lambda p: p.everywhere), typed(lambda p: p.text, "teal")),
    "stop added in between": dragged(stops, 0.6),
    "stop added before and dragged": dragged(stops, 0.02, 0.9),
    "stop dragged past the next": dragged(stops, 0, 0.95),
    "next stop, and a colour typed": in_turn(key(stops, Key.Key_PageDown), typed(lambda p: p.text, "teal")),
    "last stop moved by keys": key(stops, Key.Key_PageUp, Key.Key_Left, Key.Key_Left, Key.Key_Right),
    "stop taken away": key(stops, Key.Key_Delete),
    "stops taken away": key(stops, Key.Key_Delete, Key.Key_Delete, Key.Key_Delete),
    "turned": press(lambda p: p.turn),
    "swapped": press(lambda p: p.findChildren(type(p.turn))[list(p.findChildren(type(p.turn))).index(p.turn) + 1]),
    "spread reflect": chosen(lambda p: p.spread, "reflect"),
    "units scene": chosen(lambda p: p.units, "scene"),
    "units box": chosen(lambda p: p.units, "box"),
    "fit tile": chosen(lambda p: p.fit, "tile"),
    "file chosen": press(lambda p: p.file),
    "another tile": chosen(lambda p: p.pattern.shape, "hull"),
    "tiles turned": typed(lambda p: p.pattern.angle, "15 * 3"),
    "tiles smaller": typed(lambda p: p.pattern.factor, "0.5"),
    "tiles of no size": typed(lambda p: p.pattern.factor, "half"),
}  # fmt: skip


def told(paint):
    if isinstance(paint, Gradient):
        stops = ", ".join(f"{told(offset)} {told(color)}" for offset, color in paint.stops)
        return f"{paint.kind} {' '.join(map(told, paint.line))} ({stops}) {paint.spread} {paint.units}"
    if isinstance(paint, Formula):
        return f"{{{paint.text}}} = {told(paint.last)}"
    return f"{paint:g}" if isinstance(paint, int | float) else str(PAINT.write(paint))


def shown(picker):
    parts = {
        "gradient": picker.gradient,
        "turn": picker.turn,
        "image": picker.picture,
        "pattern": picker.pattern,
        "colour": picker.fields,
        "name": picker.name,
        "everywhere": picker.everywhere,
    }
    seen = [name for name, part in parts.items() if part.isVisible()]
    text = f", text {picker.text.text()!r}" if picker.text.isVisible() else ""
    more = f", {picker.everywhere.text()!r}" if picker.everywhere.isVisible() else ""
    kind = next((k for k, b in picker.kinds.items() if b.isChecked()), "no kind")
    at = f", stop {picker.stops.current + 1} of {len(picker.stops.stops)}" if picker.stops.isVisible() else ""
    return f"{kind}: {' '.join(seen)}{text}{more}{at}"


def test_each_control_makes_one_thing_of_each_paint(desk, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: ("", ""))

    def lines():
        for word, paint in PAINTS.items():
            begun = False
            for act_word, act in ACTS.items():
                scene = page()
                picker = ColorPicker(desk.w, scene, PAINT.read(paint), "fill of hull")
                said = []
                picker.picked.connect(lambda p, said=said: said.append(told(p)))
                picker.named.connect(lambda pairs, said=said: said.append(f"palette {dict(pairs)}"))
                picker.open_at(QPoint(0, 0))
                if not begun:
                    yield f"== {word}, {shown(picker)}"
                    begun = True
                if not act_word.startswith("swatch") and not usable(picker, act_word):
                    picker.close()
                    picker.deleteLater()
                    continue
                act(picker)
                complaint = next((c.text() for c in (picker.complaint, picker.pattern.complaint) if c.isVisible()), "")
                yield f"    {act_word}: {' | '.join(said) or '-'}{complaint and ' ! ' + complaint}"
                yield f"        {shown(picker)}"
                picker.close()
                picker.deleteLater()

    assert_as_recorded("picker", lines())


def test_a_formula_shows_the_colour_that_it_comes_to(desk):
    scene = desk.session.scene
    scene.inputs.add("tide", 0.5)
    scene.palette = {"foam": Formula("mix('black', 'white', tide)")}
    desk["wall"].fill = Gradient("linear", (0, 0, 1, 0), ((0, Formula("mix('red', 'blue', tide)")), (1, "teal")))
    desk["moon"].fill = Formula("mix('red', 'blue', tide)")
    scene.background = Formula("mix('red', 'lime', tide)")
    scene.inputs["tide"] = 1
    desk.session.flush()
    desk.session.select([desk["wall"]])
    desk.click_cell("wall", "paint", "fill")
    acts = desk.w.ledger.acts
    assert acts.picker.stops.stops == [(0, (0, 0, 255, 255)), (1, (0, 128, 128, 255))]
    gradient = gradient_of(Start(desk.session.display.node(desk["wall"])), "fill")
    assert gradient.stops[0][1].last == "#0000ff", "so do the handles"
    acts.picker.close()
    desk.session.select([desk["moon"]])
    desk.click_cell("moon", "paint", "fill")
    assert acts.picker.text.text() == "#0000ff"
    acts.picker.close()
    acts.pick_color(next(c for c in desk.w.ledger.head_cells() if c.name == "background"))
    assert acts.picker.text.text() == "#00ff00"
    acts.picker.close()


def usable(picker, word):
    """Whether the control that is acted on is there."""
    controls = {
        "kind": picker.kinds["none"],
        "named": picker.name,
        "changed": picker.everywhere,
        "turned": picker.turn,
        "fit": picker.picture,
        "file": picker.picture,
        "another": picker.pattern,
        "tiles": picker.pattern,
        "last": picker.stops,
        "next": picker.stops,
        "stop": picker.stops,
        "stops": picker.stops,
        "swapped": picker.stops,
        "spread": picker.stops,
        "units": picker.stops,
    }
    return controls.get(word.split()[0], picker.fields).isVisible()
