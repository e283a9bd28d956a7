"""Presets and paint switches in the window."""

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from chalcedon.scene import presets

Key, Mod = Qt.Key, Qt.KeyboardModifier


def test_a_preset_is_made_renamed_changed_worn_and_taken_away_in_its_panel(desk):
    desk.session.select([desk["moon"]])
    desk.key(Key.Key_P, Mod.ControlModifier | Mod.ShiftModifier)
    panel = desk.w.presets_panel
    assert panel.isVisible() and panel.empty.isVisible()
    assert panel.focusWidget() is panel.gather
    QTest.keyClick(panel.gather, Key.Key_Return)
    assert panel.rows["moon"]["text"].text() == "fill #f1e4bd"
    assert panel.rows["moon"]["name"].isVisible() and panel.focusWidget() is panel.rows["moon"]["name"]
    assert panel.screen().availableGeometry().contains(panel.geometry())
    desk.enter(panel.rows["moon"]["name"], "pale")
    assert desk["moon"].wears == ("pale",) and panel.rows["pale"]["used"].text() == "worn by 1"
    panel.close()
    desk.session.select([desk["hull"], desk["sail"]])
    desk.w.show_presets()
    panel.rows["pale"]["wear"].click()
    assert desk["hull"].fill == "#f1e4bd" and panel.rows["pale"]["wear"].text() == "take off"
    desk.enter(panel.rows["pale"]["text"], "fill #ffffff stroke black 2")
    assert (desk["moon"].fill, desk["sail"].stroke, desk["hull"].stroke_width) == ("#ffffff", "black", 2)
    desk.enter(panel.rows["pale"]["text"], "fill nocolour")
    assert "nocolour" in panel.complaint.text() and desk["moon"].fill == "#ffffff"
    panel.rows["pale"]["used"].click()
    assert not panel.isVisible() and sorted(desk.chosen) == ["hull", "moon", "sail"]
    desk.w.show_presets()
    panel.rows["pale"]["remove"].click()
    assert not desk["hull"].wears and desk["hull"].fill == "#ffffff" and not panel.rows
    panel.close()
    desk.session.undo()
    assert desk["hull"].wears == ("pale",)


def test_the_row_says_what_is_worn_and_takes_it_up_again(desk):
    presets.make(desk.session.scene, "pale", desk["moon"])
    presets.wear(desk.session.scene, [desk["hull"]], "pale")
    desk.session.flush()
    desk.session.select([desk["hull"]])
    assert desk.cell("hull", "choice", "wears", (0,))[0].text == "pale"
    desk["hull"].fill = "red"
    desk.session.flush()
    desk.click_cell("hull", "more", "wears")
    assert desk["hull"].fill == "#f1e4bd"
    desk.click_cell("hull", "choice", "wears", (0,))
    menu = desk.w.ledger.acts._menu
    first = menu.actions()[0]
    assert first.text() == "pale" and first.isChecked()
    first.trigger()
    menu.hide()
    assert not desk["hull"].wears


def test_paint_is_switched_by_its_mark_by_keys_and_by_picking_another(desk):
    desk.session.select([desk["moon"]])
    desk.click_cell("moon", "switch-paint", "fill_on")
    assert not desk["moon"].fill_on and desk["moon"].fill == "#f1e4bd"
    chip = next(c for c in desk.w.ledger.row_cells(desk.w.ledger.index_of(desk["moon"])) if c.role == "paint")
    assert chip.value is None, "the closed row shows that nothing is filled"
    desk.key(Key.Key_F, Mod.ShiftModifier, widget=desk.w.canvas)
    assert desk["moon"].fill_on
    desk.key(Key.Key_B, Mod.ShiftModifier, widget=desk.w.canvas)
    assert desk["moon"].stroke is not None and desk["moon"].stroke_on, "there was none: it gets the usual one"
    desk.key(Key.Key_B, Mod.ShiftModifier, widget=desk.w.canvas)
    assert not desk["moon"].stroke_on and desk["moon"].stroke is not None
    desk["moon"].fill_on = False
    desk.session.flush()
    desk.click_cell("moon", "paint", "fill")
    desk.w.ledger.acts.picker.picked.emit("#123456")
    desk.w.ledger.acts.picker.close()
    assert desk["moon"].fill == "#123456" and desk["moon"].fill_on


def test_the_paint_at_the_first_click_belongs_to_the_polygon(desk):
    desk.session.set_next("fill", "#b8482a")
    desk.w.canvas.set_kind("polyline")
    desk.click(500, 200)
    desk.session.set_next("fill", "#000000")
    desk.click(560, 200)
    desk.click(530, 260)
    desk.key(Key.Key_Return, widget=desk.w.canvas)
    assert desk.session.current.fill == "#b8482a"
