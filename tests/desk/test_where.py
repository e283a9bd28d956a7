"""A shape that can't be seen is found and brought out."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton

from chalcedon import Circle, Group, Rect, Scene
from chalcedon.desk.canvas import sought
from chalcedon.desk.ledger.tips import tip_of

Key = Qt.Key


@pytest.fixture
def lost(desk):
    scene = Scene(
        [
            Circle(id="moon", at=(200, 200), radius=40, fill="#f1e4bd"),
            Group(id="quay", children=[Rect(id="wall", at=(100, 100), size=(200, 200), fill="#15213a")]),
            Circle(id="gull", at=(1900, 200), radius=10),
            Circle(id="glass", at=(400, 300), fill=None),
        ],
        size=(800, 500),
    )
    desk.session.new(scene, "lost")
    QApplication.processEvents()
    return desk


def test_a_shape_behind_others_is_brought_out_in_two_actions(lost):
    desk = lost
    desk.session.select([desk["moon"]])
    desk.w.run_command("outline.where")
    assert desk.said == "moon is covered by wall (100 %)." and desk.session.sought is desk["moon"]
    desk.answer("Bring it in front")
    assert desk.order[-1] == "glass" and desk.order.index("moon") > desk.order.index("wall")
    assert desk.session.scene.undo_name == "Bring moon in front"
    assert desk.said == "moon is in plain sight, around 200, 200."
    desk.answer("Close")
    assert desk.session.sought is None


def test_it_shows_through_what_covers_it(lost):
    desk = lost
    canvas = desk.w.canvas
    desk.session.select([])
    before = canvas.grab().toImage()
    desk.w.checking.where(desk["moon"])
    spot = canvas.view.to_widget(210, 210)
    assert canvas.grab().toImage().pixelColor(int(spot[0]), int(spot[1])) != before.pixelColor(
        int(spot[0]), int(spot[1])
    )


def test_an_arrow_leads_to_what_is_off_the_view(lost):
    desk = lost
    canvas = desk.w.canvas
    desk.w.checking.where(desk["gull"])
    assert desk.said == "gull is 1090 px right of the page."
    x, y, angle = sought.arrow(canvas)
    assert x > canvas.width() - 60 and abs(angle) < 0.2
    desk.click(*canvas.view.to_scene(x, y))
    assert sought.arrow(canvas) is None
    left, _ = canvas.view.to_widget(1890, 200)
    assert 0 < left < canvas.width()
    assert desk.chosen == ["gull"], "the click on the arrow was for the arrow"
    desk.answer("Move it onto the page")
    assert desk["gull"].at == (790, 200)


def test_rows_of_what_cannot_be_seen_have_a_mark(lost):
    desk = lost
    ledger = desk.w.ledger
    marks = {}
    for i, row in enumerate(ledger.rows):
        found = [c for c in ledger.row_cells(i) if c.role == "lost"]
        marks[row.shape.id] = found[0].text if found else ""
    assert marks == {"moon": "", "quay": "", "wall": "", "gull": "off the page", "glass": "no paint"}
    desk.click_cell("glass", "lost", opened=False)
    assert desk.said == "glass has neither fill nor stroke." and desk.chosen == ["glass"]
    cell = next(c for c in ledger.row_cells(ledger.index_of(desk["glass"])) if c.role == "lost")
    assert "no paint" in tip_of(cell, desk.session)
    desk.answer("Fill it")
    assert desk["glass"].fill is not None
    assert not any(c.role == "lost" for c in ledger.row_cells(ledger.index_of(desk["glass"])))


def test_marks_stay_where_they_are_under_the_pointer(lost):
    """What is pressed is what was aimed at: the lock that appears under the pointer takes no other mark's place."""
    desk = lost
    ledger = desk.w.ledger
    desk["gull"].pointer = "none"
    desk.session.flush()
    index = ledger.index_of(desk["gull"])

    def marks():
        return {c.role: c.x for c in ledger.row_cells(index) if c.role in ("pointer", "lost", "eye", "lock")}

    before = marks()
    assert set(before) == {"eye", "pointer", "lost"}
    QTest.mouseMove(ledger.viewport(), QPoint(200, int(ledger.top_of(index)) + 14))
    after = marks()
    assert "lock" in after and {r: after[r] for r in before} == before


def test_the_hit_map_marks_what_is_never_hit(lost):
    desk = lost
    canvas = desk.w.canvas
    before = canvas.grab().toImage()
    desk.w.run_command("view.hits")
    canvas.repaint()
    QTest.qWait(150)
    assert [s.id for s in desk.session.unreached] == ["moon", "glass"]
    assert desk.said == "The pointer never hits moon, glass here."
    row = desk.w.ledger.row_cells(desk.w.ledger.index_of(desk["moon"]))
    assert next(c for c in row if c.role == "lost").text == "the pointer never hits it"
    x, y = map(int, canvas.view.to_widget(120, 120))
    assert canvas.grab().toImage().pixelColor(x, y) != before.pixelColor(x, y)
    desk["moon"].at = (700, 100)
    desk.session.flush()
    canvas.repaint()
    QTest.qWait(150)
    assert [s.id for s in desk.session.unreached] == ["glass"], "it follows the scene"
    desk.w.run_command("view.hits")
    assert not desk.session.unreached and not desk.session.hit_map


def test_another_shape_that_is_looked_for_takes_the_place_of_the_first(lost):
    desk = lost
    desk.w.checking.where(desk["moon"])
    desk.w.checking.where(desk["gull"])
    assert desk.said.startswith("gull is") and desk.session.sought is desk["gull"]
    desk.answer("Close")
    assert not desk.w.messages.asking and desk.session.sought is None


def test_the_question_goes_with_its_shape(lost):
    desk = lost
    desk.w.checking.where(desk["moon"])
    desk.session.select([desk["moon"]])
    desk.w.run_command("edit.delete")
    assert desk.session.sought is None or desk.session.sought.scene is not desk.session.scene
    assert not desk.w.messages.asking
    desk.session.select([])
    desk.w.checking.where()
    assert "Select what you look for" in desk.said


def look_at_born(desk):
    QTest.qWait(450)
    return desk.said


def test_a_shape_born_covered_says_so_and_takes_no_focus(lost):
    desk = lost
    desk.session.select([desk["moon"]], place=True)
    desk.line("circle 200 200 30 fill #b8482a")
    assert look_at_born(desk) == "circle is covered by wall (100 %)."
    assert desk.w.newline.entry.hasFocus(), "the next line can be typed"
    desk.answer("Bring it in front")
    assert desk.order.index("circle") > desk.order.index("wall") and not desk.w.messages.asking
    desk.line("circle 900 50 10")
    assert look_at_born(desk) == "circle_2 is 90 px right of the page."
    desk.line("circle 400 400 30 fill #3e7f65")
    assert look_at_born(desk) != "circle_2 is 90 px right of the page." or desk["circle_2"].scene is not None
    desk.line("rect 500 100 20 20 fill white")
    assert "nearly the colour of what is behind it" in look_at_born(desk)
    desk.answer("Show it")
    assert desk.session.sought is desk["rect"]


def test_a_shape_in_plain_sight_says_nothing(lost):
    desk = lost
    desk.session.select([])
    desk.line("circle 600 400 30 fill #b8482a")
    assert look_at_born(desk) == "" and not desk.w.messages.asking


def test_where_the_next_shape_goes_is_said(lost):
    desk = lost
    desk.session.select([desk["quay"]])
    for key in (Key.Key_R, Key.Key_P, Key.Key_B):
        desk.key(key, widget=desk.w.canvas)
        assert desk.w.hint.text().startswith("Goes into quay · ")
    desk.key(Key.Key_Escape, widget=desk.w.canvas)
    desk.session.select([desk["moon"]])
    desk.key(Key.Key_R, widget=desk.w.canvas)
    assert desk.w.hint.text().startswith("Press at one corner")


def test_a_new_scene_has_the_page_size_of_the_last(lost):
    desk = lost
    desk.session.scene.size = (320, 200)
    desk.session.flush()
    desk.session.set_next("fill", "#3e7f65")
    desk.w.run_command("file.new")
    if desk.w.messages.asking:  # about what isn't saved
        desk.w.messages._answers[1].click()
    assert desk.session.scene.size == (320, 200) and "320 × 200 as the last one" in desk.said
    assert desk.session.next_fill == "#3e7f65"


def test_the_question_follows_the_scene(lost):
    """What is asked is about the scene as it is, not as it was when it was asked."""
    desk, qt = lost, QTest
    desk.w.checking.where(desk["moon"])
    assert "covered by wall" in desk.said
    button = next(b for b in desk.w.messages.findChildren(QPushButton) if "in front" in b.text())
    desk["glass"].at = (410, 300)
    desk.session.flush()
    qt.qWait(300)
    assert button.isVisible(), "nothing is asked anew while it is the same"
    desk["wall"].visible = False
    desk.session.flush()
    qt.qWait(300)
    assert desk.said.startswith("moon is in plain sight"), desk.said
    buttons = {b.text() for b in desk.w.messages.findChildren(QPushButton) if b.isVisible()}
    assert "Bring it in front" not in buttons and "Close" in buttons
