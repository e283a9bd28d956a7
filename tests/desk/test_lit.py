"""What lies under the pointer, is chosen or has the keyboard is seen to be so, and nothing else is."""

import numpy as np
import pytest
from agree import pixels
from PySide6.QtCore import QEvent, QPoint, QRect, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from chalcedon.desk.looks.buttons import SIDE, Switch
from chalcedon.desk.looks.theme import theme
from chalcedon.desk.shelf.board import FOOT
from chalcedon.formula import Formula

ROUND = 4
"""Px around a cell that light up with it."""
SHADES = 8
"""By which a chip differs that was painted before from one that is painted now."""


def picture(widget):
    return pixels(widget.grab().toImage())


def rgb(name):
    return np.array(theme().color(name).getRgb()[:3])


def count(image, name, box):
    """How many px of a box have a colour of the theme."""
    part = image[box.top() : box.bottom() + 1, box.left() : box.right() + 1]
    return int((part == theme().color(name).getRgb()[:3]).all(axis=2).sum())


def room(cell, top):
    """Where a cell stands in the viewport."""
    return QRect(round(cell.x), round(top + cell.y), round(cell.w), round(cell.h))


@pytest.mark.parametrize("id", ["wall", "boat"])
def test_what_can_be_taken_hold_of_lights_up_where_it_is(desk, qapp, id):
    ledger = desk.w.ledger
    viewport, bar = ledger.viewport(), ledger.verticalScrollBar()
    desk[id].steps = [{"rotate": 12}, {"scale": [1.2, 1]}]
    desk.session.select([desk[id]])
    desk.unfold_all(id)
    viewport.grab()
    qapp.processEvents()  # the bar beside the rows takes its width
    index, dark, lit = ledger.index_of(desk[id]), set(), set()
    for cell in list(ledger.row_cells(index)):
        bar.setValue(int(ledger.top_of(index) + cell.y - 200))
        top = ledger.top_of(index) - bar.value()
        middle = room(cell, top).center()
        found = ledger.cell_at(middle.x(), middle.y())[1]
        if found is None or found.key != cell.key:
            continue
        QTest.mouseMove(viewport, QPoint(middle.x(), max(0, round(top)) + 1))
        ledger.pointer.hot = None
        before = picture(viewport)
        QTest.mouseMove(viewport, middle)
        after = picture(viewport)
        changed = (np.abs(after - before) > SHADES).any(axis=2)
        held = viewport.cursor().shape() != Qt.CursorShape.ArrowCursor
        for other in ledger.row_cells(index):
            if other.key == cell.key:  # a value stands in the first line, too
                box = room(other, top).adjusted(-ROUND, -ROUND, ROUND, ROUND)
                part = np.s_[max(0, box.top()) : box.bottom() + 1, max(0, box.left()) : box.right() + 1]
                ground = np.median(before[part], axis=(0, 1))
                contrast = [np.abs(image[part] - ground).max(axis=2).sum() for image in (before, after)]
                assert not changed[part].any() or contrast[1] > contrast[0], f"{cell} fades"
                (lit if changed[part].any() else dark).add((cell.role, held))
                changed[part] = False
        assert not changed.any(), f"what lies beside {cell} changes"
    assert {role for role, held in lit if not held} == {"stage", "between"}, "what is shown on the picture"
    assert {role for role, held in dark if held} == {"eye"}, "that of an opened row is always lit"
    assert {("number", True), ("switch", True), ("choice", True)} <= lit


def test_the_hit_that_is_pointed_at_chosen_or_in_focus_is_ringed(desk):
    probe = desk.w.probe
    desk.session.select([desk["wall"]])
    desk.hover(150, 150)
    assert [f.shape.id for f in probe.findings] == ["wall", "sky"]
    boxes = [b.toRect() for b in probe._boxes]

    def nearest(px, **ways):
        """Which line it is that passes over a px: of those in a colour of the theme that cover a share of it."""
        mixed = {way: share * rgb(name) + (1 - share) * rgb("panel") for way, (name, share) in ways.items()}
        return min(mixed, key=lambda way: np.abs(mixed[way] - px).sum())

    def rings():
        shown = picture(probe)
        edges = [shown[b.top() - 1, b.center().x()] for b in boxes]
        around = [shown[b.top() - 3, b.center().x()] for b in boxes]
        edge = {"plain": ("line", 0.5), "hot": ("muted", 0.5), "chosen": ("chalcedony", 1)}
        ring = {"": ("panel", 1), "focus": ("carnelian", 0.7)}
        return [(nearest(e, **edge), nearest(a, **ring)) for e, a in zip(edges, around, strict=True)]

    plain, hot, chosen = ("plain", ""), ("hot", ""), ("chosen", "")
    assert rings() == [chosen, plain]
    QTest.mouseMove(probe, boxes[1].center())
    assert rings() == [chosen, hot] and probe.cursor().shape() == Qt.CursorShape.PointingHandCursor
    QTest.mouseMove(probe, boxes[0].center())
    assert rings() == [chosen, plain]
    QTest.mouseMove(probe, boxes[1].center())
    QTest.mouseMove(probe, QPoint(2, 2))
    assert probe.cursor().shape() == Qt.CursorShape.ArrowCursor
    QTest.mouseMove(probe, boxes[1].center())
    QApplication.sendEvent(probe, QEvent(QEvent.Type.Leave))
    assert rings() == [chosen, plain]
    QTest.mouseClick(probe, Qt.MouseButton.LeftButton, pos=boxes[1].center())
    assert desk.chosen == ["sky"] and rings() == [plain, ("chosen", "focus")]
    desk.key(Qt.Key.Key_Left)
    assert rings() == [("plain", "focus"), chosen]


def test_scenes_on_the_shelf_have_a_plate_where_they_are_pointed_at_or_chosen(desk, qtbot):
    desk.w.run_command("file.shelf")
    page = desk.w.shelving.page
    qtbot.waitUntil(lambda: not page.looking.busy, timeout=20_000)
    board = page.sections[0].board
    rects = [board.visualRect(board.entries.index(row)) for row in range(2)]
    plates = [QRect(r.x() + 10, r.y() + FOOT + 7, r.width() - 20, 44) for r in rects]

    def seen():
        shown = picture(board.viewport())
        return [{n for n in ("selected", "sunken") if count(shown, n, plate) > 1000} for plate in plates]

    board.clearSelection()
    assert seen() == [set(), set()]
    QTest.mouseMove(board.viewport(), plates[1].center())
    assert seen() == [set(), {"sunken"}]
    QTest.mouseClick(board.viewport(), Qt.MouseButton.LeftButton, pos=plates[1].center())
    assert seen() == [set(), {"selected"}]
    QTest.mouseMove(board.viewport(), plates[0].center())
    assert seen() == [{"sunken"}, {"selected"}]


def test_a_switch_that_is_on_has_its_tick(qtbot):
    switch = Switch("Keep the ratio")
    qtbot.addWidget(switch)
    box = QRect(5, round(switch.sizeHint().height() / 2 - SIDE / 2), SIDE, SIDE).adjusted(2, 2, -2, -2)
    seen = []
    for on in (False, True):
        switch.setChecked(on)
        switch.resize(switch.sizeHint())
        shown = picture(switch)
        seen.append([count(shown, name, box) > 8 for name in ("panel", "carnelian")])
    assert seen == [[True, False], [True, True]], "an empty box, and a full one with a tick"


def test_what_moves_below_the_pointer_changes_how_it_looks(desk):
    """While the scene lives; the pointer itself rests."""
    desk["moon"].cursor = "grab"
    desk["moon"].at = (Formula("600 + floor(time) * 200"), 100)
    desk.w.run_command("live.mode")
    player = desk.session.document.player
    player._timer.stop()
    desk.hover(610, 100)
    looks = []
    for _ in range(2):
        player.live.advance(0.5)
        player._after()
        looks.append(desk.w.canvas.cursor().shape())
    assert looks == [Qt.CursorShape.OpenHandCursor, Qt.CursorShape.ArrowCursor]
