"""The opened row shows what is stated; the rest is found by a word."""

import random

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from chalcedon import Circle, Rect, Scene, Text
from chalcedon.desk.ledger.cells import ROW
from chalcedon.desk.ledger.folds import FOLD, OR_AS, SECTIONS, called, props_of
from chalcedon.scene import KINDS
from tests.greenhouse import greenhouse

Key = Qt.Key
OFFERED = [k for k, c in KINDS.items() if c.rank]


def lines(ledger, shape):
    """How many lines an opened row has below its first."""
    return len({c.y for c in ledger.row_cells(ledger.index_of(shape)) if c.y > 0})


def offers(ledger, shape):
    return [c.name for c in ledger.row_cells(ledger.index_of(shape)) if c.role == "offer"]


def test_an_opened_circle_is_five_lines(desk):
    desk.session.select([desk["moon"]])
    assert lines(desk.w.ledger, desk["moon"]) == 5
    shown = {c.name for c in desk.w.ledger.keys.focusable() if c.role != "offer"}
    assert shown == {"at", "radius", "fill", "fill_on"}


def test_a_row_offers_what_its_own_kind_has(desk):
    """Also right after one of another kind that states the same."""
    scene, ledger = desk.session.scene, desk.w.ledger
    shapes = [scene.add(cls(at=(20, 20))) for cls in (Circle, Rect, Text)]
    desk.session.flush()
    for shape in shapes:
        desk.session.select([shape])
        shown = {c.name for c in ledger.row_cells(ledger.index_of(shape)) if c.y > 0}
        assert set(shape.leading) <= shown and shown & set(shape.properties) == shown - {OR_AS, FOLD, ""}


def test_what_was_opened_stays_until_it_is_folded(desk):
    ledger, moon = desk.w.ledger, desk["moon"]
    desk.session.select([moon])
    desk.click_cell("moon", "offer", "opacity")
    assert ledger.focus_key[:2] == ("number", "opacity")
    desk.key(Key.Key_Return, widget=ledger)
    desk.type("0.5", ledger.editor)
    desk.key(Key.Key_Return, widget=ledger.editor)
    assert moon.opacity == 0.5
    moon.opacity = 1
    desk.session.flush()
    desk.session.select([desk["wall"]])
    desk.session.select([moon])
    assert "opacity" not in offers(ledger, moon), "it doesn't vanish under the hand at its default"
    desk.click_cell("moon", "offer", FOLD)
    assert "opacity" in offers(ledger, moon) and FOLD not in offers(ledger, moon)
    moon.opacity = 0.4
    desk.session.flush()
    assert "opacity" not in offers(ledger, moon)


def test_other_descriptions_open_for_every_row(desk):
    desk.session.select([desk["moon"]])
    desk.click_cell("moon", "offer", OR_AS)
    assert desk.w.ledger.focus_key[1] == "also edges"
    desk.session.select([desk["wall"]])
    assert any(c.also == "centre" for c in desk.w.ledger.keys.focusable())


UNFIT = [
    "clip_by",
    "head_size",
    "start_head",
    "mid_head",
    "end_head",
    "stroke_align",
    "paint_order",
    "drag_on",
    "drag_grid",
]
"""What means something for some shapes only."""


@pytest.mark.parametrize("kind", OFFERED)
def test_every_value_is_found_by_typing_its_name(desk, kind):
    """Typed in full, with the row in focus: it is unfolded and in focus, or it is said why it can't be. What several
    kinds have is typed for the first of them."""
    desk.session.new(Scene([KINDS[kind](id="it")]))
    ledger, shape = desk.w.ledger, desk["it"]
    if "stroke" in shape.properties:
        shape.stroke, shape.dash = "#000000", (4, 2)
    shape.steps = [{"rotate": 10}]
    desk.session.flush()
    for section, _title in SECTIONS:
        for prop in props_of(kind, section):
            word = prop.word if prop.name != "steps" else "step"
            wanted = called(shape, word)
            assert prop.name in [m.name for m in wanted], word
            if kind != next(k for k in OFFERED if prop.name in KINDS[k].properties):
                continue
            desk.session.select([shape])
            ledger.setFocus()
            if ledger.focus_key is not None:
                desk.key(Key.Key_Escape, widget=ledger)
            desk.type(word, ledger)
            for _ in range([m.name for m in wanted].index(prop.name)):
                desk.key(Key.Key_Down, widget=ledger)
            desk.key(Key.Key_Return, widget=ledger)
            assert ledger.keys.naming.find is None
            if ledger.focus_key is None:
                assert desk.said == f"{word} means nothing for it as it is now."
                assert prop.name in UNFIT
            else:
                assert ledger.focus_key[1] == prop.name, word


@pytest.mark.parametrize(
    "typed, name, path",
    [
        ("x", "at", (0,)),
        ("y", "at", (1,)),
        ("colour", "fill", ()),
        ("r", "radius", ()),
        ("diam", "also diameter", (0,)),
    ],
)
def test_words_of_the_trade_find_a_value(desk, typed, name, path):
    desk.session.select([desk["moon"]])
    desk.w.ledger.setFocus()
    desk.type(typed, desk.w.ledger)
    desk.key(Key.Key_Tab, widget=desk.w.ledger)
    assert desk.w.ledger.focus_key[1:] == (name, path)


def test_typing_a_name_is_corrected_and_given_up(desk):
    ledger = desk.w.ledger
    desk.session.select([desk["moon"]])
    ledger.setFocus()
    desk.type("rq", ledger)
    cells = ledger.row_cells(ledger.open_index())
    assert any(c.text == "nothing of moon is called that" for c in cells)
    desk.key(Key.Key_Return, widget=ledger)
    assert ledger.keys.naming.find.text == "rq", "nothing to take: it stays to be corrected"
    desk.key(Key.Key_Backspace, widget=ledger)
    assert ledger.keys.naming.find.found[0].name == "radius"
    desk.key(Key.Key_Escape, widget=ledger)
    assert ledger.keys.naming.find is None and desk.chosen == ["moon"]
    assert desk["moon"].kind == "circle" and len(desk.session.scene) == 7, "no letter was taken for a command"


def test_a_row_opened_by_hand_stays_under_the_pointer(desk):
    """Whatever row is opened, and whatever row closes above it."""
    desk.session.new(greenhouse(), "greenhouse")
    ledger = desk.w.ledger
    rnd = random.Random(7)
    for _ in range(60):
        ledger.verticalScrollBar().setValue(rnd.randrange(ledger.verticalScrollBar().maximum() + 1))
        scroll = ledger.verticalScrollBar().value()
        seen = [i for i in range(len(ledger.rows)) if 0 < ledger.top_of(i) - scroll < ledger.viewport().height() - ROW]
        index, opened = rnd.choice(seen), ledger.open_index()
        before = {i: ledger.top_of(i) - scroll for i in seen if i <= index}
        spot = QPoint(60 + 9 * ledger.rows[index].depth, int(before[index]) + 14)
        QTest.mouseClick(ledger.viewport(), Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, spot)
        assert ledger.open_index() == index
        now = {i: ledger.top_of(i) - ledger.verticalScrollBar().value() for i in before}
        kept = [i for i in before if not 0 <= opened < index or i > opened]
        assert {i: now[i] for i in kept} == {i: before[i] for i in kept}


def test_the_space_that_holds_a_row_goes_when_the_pointer_leaves(desk):
    desk.session.new(Scene([Circle(id="first"), Rect(id="second")]))
    ledger = desk.w.ledger
    desk.session.select([desk["first"]])
    top = ledger.top_of(1)
    desk.click_cell("second", "id", opened=False)
    assert ledger.top_of(1) == top and ledger.slack > 0
    ledger.pointer.leave()
    assert ledger.slack == 0 and ledger.top_of(1) < top
