"""Single words of a text, set on the canvas and in the ledger."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QTextCursor
from PySide6.QtTest import QTest

from chalcedon.scene import Scene, Text

Key, Mod = Qt.Key, Qt.KeyboardModifier


@pytest.fixture
def sign(desk):
    desk.session.new(Scene([Text(id="sign", at=(60, 60), content="low water at six", size=40)], size=(600, 300)))
    desk.session.select([desk["sign"]])
    return desk


def writing(desk):
    desk.w.canvas.write(desk["sign"])
    return desk.w.canvas.words


def choose(editor, first, last):
    cursor = editor.textCursor()
    cursor.setPosition(first)
    cursor.setPosition(last, QTextCursor.MoveMode.KeepAnchor)
    editor.setTextCursor(cursor)


def runs(desk):
    return [(r.first, r.last, dict(r.values)) for r in desk["sign"].runs]


def test_chosen_words_are_made_bold_italic_larger_and_coloured_by_keys(sign):
    editor = writing(sign)
    choose(editor, 4, 9)
    sign.key(Key.Key_B, Mod.ControlModifier, editor)
    assert runs(sign) == [(4, 9, {"weight": 700})]
    sign.key(Key.Key_I, Mod.ControlModifier, editor)
    sign.key(Key.Key_Up, Mod.ControlModifier, editor)
    assert runs(sign) == [(4, 9, {"weight": 700, "italic": True, "size": 48})]
    sign.key(Key.Key_B, Mod.ControlModifier, editor)
    assert "weight" not in runs(sign)[0][2], "again takes it back"
    editor.pick_color()
    assert not editor.picker.kinds, "words have a colour"
    editor.picker.fields.none.emit()
    assert editor.picker.complaint.text() == "A colour belongs here." and "fill" not in runs(sign)[0][2]
    editor.picker.picked.emit("#b8482a")
    assert editor.isVisible() and runs(sign)[0][2]["fill"] == "#b8482a", "the picker doesn't end the writing"
    editor.picker.close()
    choose(editor, 4, 7)
    sign.key(Key.Key_Space, Mod.ControlModifier, editor)
    assert [(a, b) for a, b, _ in runs(sign)] == [(7, 9)]
    sign.key(Key.Key_Return, Mod.ControlModifier, editor)
    assert sign.w.canvas.words is None
    sign.session.undo()
    assert runs(sign) == [], "all of it is one step"


def test_without_a_choice_the_word_at_the_caret_is_set_and_buttons_do_the_same(sign):
    editor = writing(sign)
    choose(editor, 6, 6)
    editor.bar.buttons["bold"].click()
    assert runs(sign) == [(4, 9, {"weight": 700})] and editor.hasFocus()
    assert editor.document().findBlockByNumber(0).layout().formats()[0].start == 4, "the editor shows it"
    editor.finish(keep=False)
    assert runs(sign) == [], "Escape takes it back"


def test_words_keep_their_setting_while_others_are_written_and_go_with_their_letters(sign):
    sign["sign"].runs = [(4, 9, {"weight": 700})]
    sign.session.flush()
    editor = writing(sign)
    choose(editor, 0, 3)
    sign.type("very high", editor)
    assert sign["sign"].content == "very high water at six" and runs(sign) == [(10, 15, {"weight": 700})]
    choose(editor, 12, 12)
    sign.type("x", editor)
    assert runs(sign) == [(10, 16, {"weight": 700})]
    choose(editor, 9, 17)
    sign.key(Key.Key_Delete, widget=editor)
    assert runs(sign) == []


def test_letters_beyond_the_usual_planes_are_counted_as_one(sign):
    sign["sign"].content = "⚓🌊🌊 sea"
    sign.session.flush()
    editor = writing(sign)
    choose(editor, 6, 9)  # the toolkit counts each wave as two
    sign.key(Key.Key_B, Mod.ControlModifier, editor)
    assert runs(sign) == [(4, 7, {"weight": 700})]


def test_without_words_nothing_is_set_and_that_is_said(sign):
    sign["sign"].content = ""
    sign.session.flush()
    editor, steps = writing(sign), len(sign.session.scene.history.done)
    sign.key(Key.Key_B, Mod.ControlModifier, editor)
    assert "Choose some words" in sign.said and len(sign.session.scene.history.done) == steps


def test_runs_are_added_said_and_taken_away_in_the_ledger(sign):
    sign.w.ledger.unfold(sign["sign"], "runs")
    sign.click_cell("sign", "add", "runs")
    editor = sign.w.ledger.editor
    assert runs(sign) == [(0, 3, {"weight": 700})] and editor.text() == "0 3 weight 700"
    editor.selectAll()
    QTest.keyClicks(editor, "4 9 fill #b8482a size 60")
    QTest.keyClick(editor, Key.Key_Return)
    assert runs(sign) == [(4, 9, {"fill": "#b8482a", "size": 60})]
    assert sign.cell("sign", "text", "runs", (0,))[0].text.startswith("4–9 fill #b8482a")
    sign.click_cell("sign", "text", "runs", (0,))
    editor = sign.w.ledger.editor
    editor.selectAll()
    QTest.keyClicks(editor, "4 9 radius 3")
    QTest.keyClick(editor, Key.Key_Return)
    assert "radius" in sign.said and runs(sign) == [(4, 9, {"fill": "#b8482a", "size": 60})]
    sign.click_cell("sign", "remove", "runs", (0,))
    assert runs(sign) == []


def test_a_press_on_a_button_leaves_the_editor_in_use(sign):
    """As the window system delivers it: what is pressed, or what it lies on, is given the focus."""
    editor = writing(sign)
    choose(editor, 4, 9)
    window = sign.w.windowHandle()
    for name in ("bold", "italic"):
        button = editor.bar.buttons[name]
        QTest.mouseClick(window, Qt.MouseButton.LeftButton, pos=button.mapTo(sign.w, button.rect().center()))
        assert sign.w.canvas.words is editor and editor.hasFocus(), name
    assert runs(sign) == [(4, 9, {"weight": 700, "italic": True})]


def test_only_the_chosen_letters_count_for_what_they_have(sign):
    sign["sign"].runs = [(0, 4, {"weight": 700}), (9, 12, {"weight": 700})]
    editor = writing(sign)
    choose(editor, 4, 9)  # between two that are bold
    editor.toggle("weight")
    assert runs(sign) == [(0, 12, {"weight": 700})]
    choose(editor, 0, 12)
    editor.toggle("weight")
    assert runs(sign) == [], "all of it was bold"
    choose(editor, 0, 4)
    editor.toggle("weight")
    choose(editor, 4, 9)
    editor.toggle("weight")
    assert runs(sign) == [(0, 9, {"weight": 700})], "the letters beside them are no reason to take it back"
    editor.finish(keep=False)
