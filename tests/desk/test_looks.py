"""Looks and manners: contrast, names for those who can't see, nothing clipped, all of it by the keyboard."""

import itertools

import numpy as np
import pytest
from agree import pixels
from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QToolButton
from recorded import assert_as_recorded

from chalcedon.desk.commands import COMMANDS, MENUS
from chalcedon.desk.ledger import cells as lay
from chalcedon.desk.ledger.formulacells import words
from chalcedon.desk.ledger.tips import tip_of
from chalcedon.desk.looks import glyphs
from chalcedon.desk.looks.theme import THEMES, theme
from chalcedon.files import open_scene
from chalcedon.scene import KINDS, OFFERED, Scene
from chalcedon.scene.paints import evenly

Key, Mod = Qt.Key, Qt.KeyboardModifier


def luminance(color):
    channels = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in QColor(color).getRgbF()[:3]]
    return 0.2126 * channels[0] + 0.7152 * channels[1] + 0.0722 * channels[2]


def contrast(a, b):
    """WCAG 2.1, 1.4.3."""
    light, dark = sorted((luminance(a), luminance(b)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


@pytest.mark.parametrize("theme", THEMES.values(), ids=lambda t: t.name)
def test_text_can_be_read(theme):
    for text, ground in itertools.product(("ink", "muted"), ("paper", "panel", "selected")):
        assert contrast(getattr(theme, text), getattr(theme, ground)) >= 4.5, (text, ground)
    assert contrast(theme.ink, theme.sunken) >= 4.5 and contrast(theme.ink, theme.warn) >= 4.5
    assert contrast(theme.chrysoprase, theme.live) >= 4.5 and contrast(theme.chrysoprase, theme.panel) >= 4.5
    assert contrast(theme.carnelian, theme.panel) >= 4.5 and contrast("#FFFFFF", "#B8482A") >= 4.5


def test_every_kind_has_a_glyph_and_every_button_a_name(desk):
    for kind in OFFERED:
        assert not glyphs.glyph(kind, "#22292e").isNull()
        picture = glyphs.glyph(kind, "#22292e").toImage()
        assert any(picture.pixelColor(x, y).alpha() for x in range(0, 40, 2) for y in range(0, 40, 2)), kind
    for button in desk.w.findChildren(QToolButton):
        if button.isVisible():
            assert button.accessibleName() or button.text(), button
    for part in (desk.w.canvas, desk.w.ledger, desk.w.probe, desk.w.newline.entry, desk.w.finder.entry):
        assert part.accessibleName()


@pytest.mark.parametrize("width", [300, 464, 760])
def test_cells_neither_overlap_nor_leave_the_ledger(desk, width):
    shapes = [KINDS[k](id=f"a_rather_long_name_for_{k}") for k in OFFERED]
    for shape in shapes:
        shape.steps = [
            {"rotate": -123.456},
            {"scale": [1.25, 2]},
            {"matrix": [1, 0, 0.5, 1, 3, 4], "about": [700, 500]},
        ]
        if "dash" in shape.properties:
            shape.stroke, shape.dash = "rgb(12 34 56 / 50%)", (6, 3, 1, 3)
    desk.session.new(Scene(shapes))
    desk.w.split.setSizes([width, 1280 - width])
    ledger = desk.w.ledger
    for shape, unfolded in itertools.product(shapes, (False, True)):
        desk.session.select([shape])
        if unfolded:
            desk.unfold_all(shape.id)
        index = ledger.index_of(shape)
        room = ledger.viewport().width()
        rows = {}
        for cell in ledger.row_cells(index):
            assert cell.x + cell.w <= room + 1, f"{cell.role} {cell.text} sticks out"
            if cell.role != "sentence":
                rows.setdefault(cell.y, []).append(cell)
        for row in rows.values():
            row.sort(key=lambda c: c.x)
            for a, b in itertools.pairwise(row):
                assert a.x + a.w <= b.x + 1.5, f"{a.role} {a.text} runs into {b.role} {b.text}"
        shown = {c.name for c in ledger.row_cells(index)}
        assert {"at", "anchor", "opacity", "pointer", "label", "note", "steps"} <= shown
        assert set(shape.leading) <= shown, "every value of the kind can be reached"


@pytest.mark.parametrize(
    ("value", "shown"),
    [
        *[(True, "yes"), (False, "no"), (None, "none"), ((), "none"), (-2.5, "−2.5"), (1 / 3, "0.333"), ("", "–")],
        *[((1, 2, 3, 4), "1, 2, 3, 4"), ((1, 2, 3, 4, 5), "1, 2, 3, 4, …"), (((1, 2), "a"), "1, 2, a")],
        *[("low\ntide", "low ⏎ tide"), ("x" * 201, "x" * 200), (evenly("linear", ["red", "blue"]), "a paint")],
    ],
)
def test_what_a_formula_comes_to_is_shown_in_a_cell(value, shown):
    assert words(value) == shown


def test_a_long_list_of_points_opens_on_demand(desk):
    desk.line("polyline 0 0 " + " ".join(f"{i} {i % 5}" for i in range(40)))
    shape = desk.session.current
    more = next(c for c in desk.w.ledger.row_cells(desk.w.ledger.index_of(shape)) if c.value == "expand")
    assert more.text == f"and {40 - lay.MANY} more"
    desk.click_cell(shape.id, "more", "points")
    _cell, spot = desk.cell(shape.id, "number", "points", (39, 0))
    assert spot.y() > 0
    desk.drag_cell(shape.id, "points", 8, (2, 1))
    assert shape.points[2] == (2, 10)


def test_tooltips_say_what_a_value_is(desk):
    desk.session.select([desk["moon"]])
    cell, _spot = desk.cell("moon", "number", "radius")
    assert tip_of(cell, desk.session) == "radius: centre to edge (number (px, 0 or more))"
    for cell in desk.w.ledger.row_cells(desk.w.ledger.index_of(desk["moon"])):
        if cell.live and cell.role not in ("more", "add", "id"):
            assert tip_of(cell, desk.session), cell


def test_menus_name_what_undo_would_take_back(desk):
    desk.line("circle 1 2 3")
    desk.w.refresh_actions()
    assert desk.w.actions_by_name["edit.undo"].text() == "Undo: Add circle"
    assert not desk.w.actions_by_name["edit.redo"].isEnabled()
    for chosen, inside in (([], False), (["moon"], False), (["boat"], False), (["hull"], True)):
        desk.session.select([desk[id] for id in chosen])
        desk.w.refresh_actions()
        assert desk.w.actions_by_name["edit.around"].isEnabled() == inside, chosen
    assert {c.menu for c in COMMANDS} == set(MENUS)


def test_the_menus_are_as_they_were_found_right(desk):
    desk.session.select([desk["wall"]])
    lines = []

    def list_menu(menu, deep):
        menu.aboutToShow.emit()
        for action in menu.actions():
            key = action.shortcut().toString()
            marks = [w for w, has in (("marked", action.isChecked()), ("off", not action.isEnabled())) if has]
            said = "  ".join([action.text() or "—", *([f"[{key}]"] if key else []), *marks])
            lines.append("    " * deep + ("——" if action.isSeparator() else said))
            if action.menu() is not None:
                list_menu(action.menu(), deep + 1)

    for action in desk.w.head.menus.actions():
        lines.append(action.text())
        list_menu(action.menu(), 1)
    assert_as_recorded("menus", lines)


def test_the_context_menu_fits_the_selection(desk):
    desk.session.select([desk["moon"]])
    desk.w._context_menu(desk.w.mapToGlobal(desk.w.rect().center()))
    from PySide6.QtWidgets import QApplication, QMenu

    menu = next(w for w in QApplication.topLevelWidgets() if isinstance(w, QMenu) and w.isVisible())
    entries = {a.text(): a.isEnabled() for a in menu.actions() if a.text()}
    assert entries["Delete"] and entries["Hide"] and entries["Lock"] and not entries["Ungroup"]
    menu.close()
    desk["moon"].visible, desk["moon"].locked = False, True
    desk.session.flush()
    desk.w._context_menu(desk.w.mapToGlobal(desk.w.rect().center()))
    menu = next(w for w in QApplication.topLevelWidgets() if isinstance(w, QMenu) and w.isVisible())
    said = {a.text() for a in menu.actions()}
    assert {"Show", "Unlock"} <= said and not {"Hide", "Lock"} & said
    menu.close()


def test_a_whole_round_by_the_keyboard_alone(desk, tmp_path, monkeypatch):
    """A new scene, two shapes, a number, an order, a group, a name, saved and opened: no pointer."""
    window = desk.w
    path = tmp_path / "keys.chal"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), ""))
    desk.key(Key.Key_N, Mod.ControlModifier, widget=window.canvas)
    assert not len(desk.session.scene)
    desk.key(Key.Key_Return, Mod.ControlModifier, widget=window.canvas)
    for text in ("rect 100 100 200 120", "circle 200 160 40 fill linen"):
        desk.type(text, window.newline.entry)
        desk.key(Key.Key_Return, widget=window.newline.entry)
    desk.key(Key.Key_F6, widget=window.newline.entry)
    for _ in range(3):
        desk.key(Key.Key_Tab, widget=window.ledger)
    assert window.ledger.focus_key[1] == "radius"
    desk.type("6", window.ledger)
    desk.type("0+5", window.ledger.editor)
    desk.key(Key.Key_Return, widget=window.ledger.editor)
    assert desk["circle"].radius == 65
    desk.key(Key.Key_Up, Mod.AltModifier, widget=window.ledger)
    assert desk.order == ["circle", "rect"]
    desk.key(Key.Key_A, Mod.ControlModifier, widget=window.ledger)
    desk.key(Key.Key_G, Mod.ControlModifier, widget=window.ledger)
    desk.key(Key.Key_F2, widget=window.ledger)
    desk.type("pair")
    desk.key(Key.Key_Return)
    desk.key(Key.Key_S, Mod.ControlModifier, widget=window.ledger)
    again = open_scene(path).scene
    assert [s.id for s in again.walk()] == ["pair", "circle", "rect"] and again["circle"].radius == 65


def test_themes_are_remembered_and_change_everything(desk):
    desk.w.set_theme("basalt")
    dark = desk.w.grab().toImage().pixelColor(30, 500)
    desk.w.set_theme("plaster")
    light = desk.w.grab().toImage().pixelColor(30, 500)
    assert light.lightness() - dark.lightness() > 120
    assert desk.w.settings.value("theme") == "plaster"


def test_several_rows_are_dragged_in_their_order(desk):
    desk.session.select([desk["moon"], desk["wall"]])
    ledger = desk.w.ledger
    drop_gap = ledger.index_of(desk["rope"]) + 1
    from chalcedon.desk.ledger.rows import drop_at

    ledger.pointer.drop_rows(drop_at(desk.session.scene, ledger.rows, drop_gap, 0, False, ledger.folded))
    assert desk.order == ["sky", "boat", "hull", "sail", "rope", "wall", "moon"]
    assert desk.session.scene.undo_name == "Bring 2 shapes in front of rope"
    ledger.acts.set_direction(True)
    ledger.pointer.drop_rows(drop_at(desk.session.scene, ledger.rows, len(ledger.rows), 0, True, ledger.folded))
    assert desk.order[:2] == ["wall", "moon"], "listed front first, the foot of the list is the back"


def test_copies_keep_what_this_version_does_not_know(desk):
    desk["moon"].extra["aura"] = {"soft": True}
    desk.session.select([desk["moon"]])
    desk.w.run_command("edit.copy")
    assert 'extra=\'{"aura":{"soft":true}}\'' in QGuiApplication.clipboard().text()
    desk.w.run_command("edit.paste")
    assert desk["moon_2"]._extra == {"aura": {"soft": True}}


def test_selecting_a_group_moves_nothing(desk):
    """The strip says where shapes go; that must not push the ledger aside."""
    before = desk.w.split.sizes()
    desk["boat"].id = "a_group_with_a_very_long_name_that_would_need_a_lot_of_room_in_the_strip"
    desk.session.select([desk["a_group_with_a_very_long_name_that_would_need_a_lot_of_room_in_the_strip"]])
    QTest.qWait(30)
    assert desk.w.split.sizes() == before
    assert "goes into a_group" in desk.w.strip.into.text()
    assert desk.w.strip.fit.geometry().right() <= desk.w.strip.width()


@pytest.mark.parametrize(
    ("size", "zoom", "where"), [((640, 460), 1, "in"), ((99, 99), 1, "below"), ((640, 460), 9, "in")]
)
def test_the_words_on_an_empty_page_are_in_it_or_below_it_and_never_cut(desk, size, zoom, where):
    desk.session.new(Scene(size=size, background="#ffffff"))
    canvas = desk.w.canvas
    canvas.view.zoom = zoom
    canvas.view.place(60.0, 40.0)
    canvas.update()
    left, top = canvas.view.to_widget(0, 0)
    right, bottom = canvas.view.to_widget(*size)
    seen = pixels(canvas.grab().toImage())
    ink = np.abs(seen - QColor(theme().color("muted")).getRgb()[:3]).max(axis=2) < 25
    ink[:, :24], ink[:24] = False, False  # the rulers
    edge = int(min(bottom, canvas.height())) - 3
    inside = ink[int(top) + 3 : edge, int(left) + 3 : int(min(right, canvas.width())) - 3]
    below = ink[edge + 6 :]
    assert (inside.sum() > 100) == (where == "in") and (below.sum() > 100) == (where == "below")
    words = inside if where == "in" else below
    columns = np.nonzero(words.any(axis=0))[0]
    assert columns[0] > 8 and columns[-1] < words.shape[1] - 8 and columns[-1] - columns[0] > 300, "from end to end"
