"""The panels of inputs, palette and presets: what is typed into every field of theirs, and that they stay."""

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QApplication, QLineEdit
from recorded import assert_as_recorded, changed

from chalcedon.formula import Formula
from chalcedon.scene import presets
from chalcedon.source import print_shapes

Key = Qt.Key

INPUTS = {
    "name": ("swell", "two words", "", "tide"),
    "low": ("-5", "0.5 + 0.25", "mark.x", "", "9", "storm, calm", "fog", "calm", "storm, , gale"),
    "high": ("5", "", "-9", "lit"),
    "step": ("0.25", "", "0", "-1", "half"),
    "unit": ("°", ""),
    "label": ("Height of the tide", ""),
    "group": ("water", ""),
}


def test_what_is_typed_into_each_field_of_each_input_does_one_thing(desk):
    inputs = desk.session.scene.inputs
    begun = {
        "tide": {"number": 3, "low": 0, "high": 8, "step": 0.5, "unit": "m"},
        "free": {"number": 3},
        "wind": {"choice": "calm", "choices": ["calm", "breeze", "storm"]},
        "mark": {"point": [3, 4]},
        "lit": {"switch": True},
    }
    desk.session.scene.inputs = begun
    desk.session.flush()
    desk.w.living.show_inputs()
    panel = desk.w.living.panel

    def lines():
        for name in begun:
            spec = inputs.spec(name)
            yield f"== {name}"
            stated = {what: entry.text() for what, entry in panel.rows[name].items() if isinstance(entry, QLineEdit)}
            for what, texts in INPUTS.items():
                if not panel.rows[name][what].isVisible():
                    yield f"    no {what}"
                    continue
                for text in texts:
                    before = len(desk.session.scene.history.done)
                    desk.enter(panel.rows[name][what], text)
                    now = next((s for s in inputs.specs() if s.name not in begun), None) or inputs.spec(name)
                    changed = {n: v for n, v in now._asdict().items() if v != getattr(spec, n)}
                    assert panel.isVisible(), "there is more to be typed"
                    assert panel.rows[now.name][what] is QApplication.focusWidget(), "from there on"
                    if not changed:
                        assert panel.rows[name][what].text() == stated[what], "what could not be taken doesn't stay"
                    said = [w.text() for w in (panel.complaint, panel.unsolved) if w.isVisible()]
                    yield f"    {what} {text!r}: {changed} {' | '.join(said)}".rstrip()
                    if len(desk.session.scene.history.done) > before:
                        desk.session.undo()
                    desk.session.flush()
                    panel.refresh()
                    assert inputs.spec(name) == spec, "one step"

    assert_as_recorded("inputs", lines())
    panel.close()


def test_a_panel_stays_and_the_keyboard_with_it_while_its_rows_are_edited(desk):
    """A field that was shown before it had its place was a window, and sent the panel away."""
    scene = desk.session.scene
    scene.palette = {"tar": "#22292e", "foam": "white"}
    scene.presets = {"calm": {"fill": "#204060"}, "storm": {"stroke_width": 5}}
    scene.inputs = {"tide": {"number": 3}, "wind": {"choice": "low", "choices": ["low", "high"]}}
    desk.session.flush()
    for show, panel in (
        (desk.w.show_palette, desk.w.palette_panel),
        (desk.w.show_presets, desk.w.presets_panel),
        (desk.w.living.show_inputs, desk.w.living.panel),
    ):
        show()
        for text in ("swell", "1", ""):
            for i in range(2):
                for what in [w for w, part in list(panel.rows.values())[i].items() if isinstance(part, QLineEdit)]:
                    part = list(panel.rows.values())[i][what]
                    if part.isVisible():
                        desk.enter(part, text)
                        assert panel.isVisible() and not panel.isHidden(), (panel.accessibleName(), what, text)
                        assert list(panel.rows.values())[i][what] is QApplication.focusWidget(), (what, text)
        assert [w for w in QApplication.topLevelWidgets() if w.isVisible() and w not in (panel, desk.w)] == []
        panel.close()


def test_tab_goes_through_a_row_from_left_to_right(desk):
    desk.session.scene.inputs = {"tide": {"number": 3, "low": 0, "high": 8}, "wind": {"number": 1}}
    desk.session.flush()
    desk.w.living.show_inputs()
    panel = desk.w.living.panel
    for round_ in ("as it was opened", "made anew"):
        panel.rows["tide"]["name"].setFocus()
        seen = []
        for _ in range(10):
            focus = QApplication.focusWidget()
            seen.append((focus.mapTo(panel, QPoint(0, 0)).x(), focus.accessibleName() or focus.text()))
            desk.key(Key.Key_Tab, widget=focus)
        assert [x for x, _ in seen] == sorted(x for x, _ in seen), (round_, seen)
        desk.session.scene.inputs.change("wind", unit="m")
        desk.session.flush()
        panel.refresh()
        QApplication.processEvents()
    panel.close()


COLOURS = {
    "name": ("fog", "two words", "", "tar", " foam2 ", "tide"),
    "text": (
        "#123456", "teal", "#12345678", "rgb(300 2 3)", "", "none", "tide", "$tar", "#12", "nocolour", "=",
        "= mix('red', 'blue', 0.5)", "= lamp", "= nope", "nope + 1", "linear-gradient(red, blue)",
    ),
}  # fmt: skip
PRESETS = {
    "name": ("pale", "two words", "", "calm", " dusk ", "storm"),
    "text": (
        "fill #123456", "colour teal", "", "stroke black 2 dash 4 2", "fill none", "opacity 0.5", "opacity 2",
        "family 'Source Sans Pro' size 20", "dash ()", "steps ()", "radius 5", "at 1,2", "x 5", "id pale", "rotate 5",
        "wears calm", "fill_on no", "fill tar", "fill nocolour", "fill", "fill …", "opacity …", "fill red fill blue",
        "fill red circle 1 2 3", "fill = lamp", "fill {lamp}", "opacity {time}", "'hello'", "5", "stroke red 2 3",
        "linear(90, red, blue)", "fill linear(90, red, blue)", "stroek red",
    ),
}  # fmt: skip


def test_what_is_typed_into_each_field_of_palette_and_presets_does_one_thing(desk):
    scene = desk.session.scene
    scene.inputs.add("lamp", "red", "colour")
    scene.palette = {"tar": "#22292e", "tide": Formula("mix('white', 'black', time)", "white")}
    scene.presets = {"calm": {"fill": "#204060"}, "storm": {"stroke_width": 5, "fill": "var(--tar)"}}
    presets.wear(scene, [desk["hull"]], "calm")
    presets.wear(scene, [desk["sail"]], "storm")
    desk["moon"].fill = "var(--tide)"
    desk.session.flush()

    def now():
        return print_shapes(scene.shapes), scene.stated("palette"), scene.presets

    def lines(show, panel, fields):
        show()
        for i, name in enumerate(list(panel.rows)):
            yield f"== {name}"
            for what, texts in fields.items():
                for text in texts if what == "name" or name != "calm" else texts[:1]:
                    before, done = now(), len(scene.history.done)
                    desk.enter(panel.rows[name][what], text)
                    row = list(panel.rows.values())[i]
                    after = now()
                    assert panel.isVisible() and row[what] is QApplication.focusWidget()
                    said = [w.text() for w in (panel.complaint, panel.unsolved) if w.isVisible()]
                    yield f"    {what} {text!r}: {' | '.join(said)}".rstrip()
                    for was, is_now in zip(before[1:], after[1:], strict=True):
                        yield from (f"        {a} -> {b}" for a, b in zip(was, is_now, strict=True) if a != b)
                    yield from (f"        {line.strip()}" for line in changed(before[0], after[0]))
                    if before == after:
                        assert len(scene.history.done) == done
                        if panel.complaint.isVisible() and row[what].text() == text:
                            yield "        stays, to be put right"
                            assert "color" in row[what].styleSheet()
                    else:
                        assert len(scene.history.done) == done + 1
                        desk.session.undo()
                    panel.show_at(panel.pos())
                    panel.rows[name][what].editingFinished.emit()
                    assert now() == before
        panel.close()

    assert_as_recorded("palette", lines(desk.w.show_palette, desk.w.palette_panel, COLOURS))
    assert_as_recorded("presets", lines(desk.w.show_presets, desk.w.presets_panel, PRESETS))


def test_a_long_complaint_makes_a_panel_taller_and_no_wider(desk):
    desk.session.scene.palette = {"tar": "#22292e"}
    desk.session.flush()
    desk.w.show_palette()
    panel = desk.w.palette_panel
    before = panel.size()
    desk.enter(panel.rows["tar"]["text"], "= " + "nowhere_to_be_found + " * 12 + "1")
    assert panel.unsolved.isVisible() and panel.height() > before.height() and panel.width() <= before.width() + 2
    desk.enter(panel.rows["tar"]["text"], "nocolour")
    assert panel.complaint.isVisible() and panel.width() <= before.width() + 2
    panel.close()


def test_one_colour_that_can_not_be_worked_out_holds_up_no_other(desk):
    desk.session.scene.palette = {
        "fog": Formula("mix('white', 'black', 0.5)", "red"),
        "tar": Formula("nope", "#22292e"),
        "foam": "white",
        "kelp": Formula("'no colour'", "green"),
    }
    desk.session.flush()
    desk.w.show_palette()
    rows, unsolved = desk.w.palette_panel.rows, desk.w.palette_panel.unsolved
    assert dict(desk.session.scene.palette) == {"fog": "#636363", "tar": "#22292e", "foam": "white", "kelp": "green"}
    assert [name for name in rows if "color" in rows[name]["text"].styleSheet()] == ["tar", "kelp"]
    assert unsolved.isVisible() and [line.split()[0] for line in unsolved.text().splitlines()] == ["tar", "kelp"]
    assert "nope" in rows["tar"]["text"].toolTip() and "no colour" in rows["kelp"]["text"].toolTip()
    assert "now #636363" in rows["fog"]["text"].toolTip()
    desk.w.palette_panel.close()
