"""Working by hand in a scene whose y runs up."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from chalcedon import Circle, DisplayList, Group, Path, Rect, Scene
from chalcedon.desk.canvas.measure import measure

Key = Qt.Key


@pytest.fixture
def page(desk):
    """A page of 800 x 500 with y up, at 100 %; `desk.drag` takes px of the page, from the top left."""
    desk.session.new(Scene([Circle(id="moon", at=(430, 300), radius=30)], size=(800, 500), y_axis="up"), "page")
    desk.session.snaps = False
    QApplication.processEvents()
    desk.w.canvas.repaint()
    desk.w.canvas.view.zoom = 1.0
    desk.w.canvas.view.place(40, 40)
    return desk


def test_the_head_and_the_menu_say_which_way_and_turn_it(desk):
    scene = desk.session.scene
    before = {s.id: s.bounds() for s in scene if s.kind != "group"}
    desk.w.run_command("view.y_up")
    assert scene.y_axis == "up" and scene.undo_name == "Let y run up"
    assert "from the bottom left" in desk.said and "everything is where it was" in desk.said
    head = {c.name: c.text for c in desk.w.ledger.head_cells() if c.name}
    assert head["y_axis"] == "up"
    height = scene.size[1]
    for id, (left, top, right, bottom) in before.items():
        assert scene[id].bounds() == pytest.approx((left, height - bottom, right, height - top), abs=1e-6)
    desk.session.undo()
    assert scene.y_axis == "down" and {s.id: s.bounds() for s in scene if s.kind != "group"} == before


def test_shapes_are_made_where_the_pointer_is(page):
    desk, canvas = page, page.w.canvas
    desk.key(Key.Key_R, widget=canvas)
    desk.drag((100, 400), (150, 420), (220, 460))
    crate = desk.session.current
    assert crate.at == (100, 100) and crate.size == (120, 60) and crate.bounds() == (100, 40, 220, 100)
    desk.key(Key.Key_R, widget=canvas)
    desk.drag((300, 460), (280, 440), (250, 400))  # backwards
    assert desk.session.current.bounds() == (250, 40, 300, 100)
    desk.key(Key.Key_T, widget=canvas)
    desk.drag((500, 450), (560, 430), (600, 420))
    assert desk.session.current.at == (500, 80)
    desk.key(Key.Key_Escape, widget=QApplication.focusWidget())
    desk.line("star 600 200 tips 5")
    assert desk.session.current.facing == 90 and desk.session.current.bounds()[3] == pytest.approx(250)


def test_moving_typing_and_turning_follow_the_axes(page):
    desk, canvas = page, page.w.canvas
    desk.session.select([desk["moon"]])
    desk.key(Key.Key_Up, widget=canvas)
    assert desk["moon"].at == (430, 301)
    desk.drag((430, 199), (440, 180), (450, 149), release=False)
    assert canvas.tool.word == "+20, +50"
    desk.type("5 -7", widget=canvas)
    desk.key(Key.Key_Return, widget=canvas)
    assert desk["moon"].at == (435, 294)
    desk.session.scene.add(Rect(id="beam", at=(100, 300), size=(100, 20)))
    desk.w.canvas.set_kind("")
    desk.session.select([desk["moon"], desk["beam"]])
    canvas.tool.hold.turn(30)
    assert desk["beam"].steps[0].values == (30,)
    _, low, _, high = desk["beam"].bounds()
    assert high - low > 60 and desk["moon"].at[1] > 294, "to the left, as from x toward y"


def test_points_guides_and_measures(page):
    desk, canvas, scene = page, page.w.canvas, page.session.scene
    x1, y1 = canvas.view.to_scene(300, 6)
    desk.drag((x1, y1), (300, 80), (300, 333))
    assert scene.guides_y == (167,) and scene.undo_name == "Move a guide"
    desk.session.snaps = True
    desk.key(Key.Key_P, widget=canvas)
    desk.click(100, 334)
    desk.hover(150, 400)
    assert canvas.tool.word == "+50, -66" or canvas.tool.word == "+50, -67"
    desk.type("30 40", widget=canvas)
    desk.key(Key.Key_Return, widget=canvas)
    desk.key(Key.Key_Return, widget=canvas)
    line = desk.session.current
    assert line.at == (100, 167) and line.points[1] == (30, 40), "it snapped to the guide; typed numbers go up"
    desk.hover(430, 200)
    assert desk.w.probe.places()[0] == "scene 430, 300"


def test_the_word_in_the_head_opens_a_menu_that_begins_at_what_is_so(page):
    desk, ledger = page, page.w.ledger
    cell = next(c for c in ledger.head_cells() if c.name == "y_axis")
    ledger.acts.activate(cell)
    menu = ledger.acts._menu
    assert menu.activeAction().text() == "up"
    desk.key(Key.Key_Up, widget=menu)
    desk.key(Key.Key_Return, widget=menu)
    assert desk.session.scene.y_axis == "down" and desk["moon"].at == (430, 200)
    assert "everything is where it was" in desk.said


def test_what_no_numbers_say_is_told_whichever_way_it_is_asked(page):
    desk = page
    desk.session.scene.add(Path(id="odd", data="M0 0 L10 10 oh"))
    desk.session.flush()
    cell = next(c for c in desk.w.ledger.head_cells() if c.name == "y_axis")
    desk.w.ledger.acts.put(cell.owner, "y_axis", "down")
    assert desk.said == "y runs down now. Not restated, as no numbers say it: odd.data."
    desk.w.run_command("view.y_up")
    assert desk.said == "y runs up now. Not restated, as no numbers say it: odd.data."


@pytest.mark.parametrize("way", ["down", "up"])
def test_a_step_of_an_anchored_group_is_measured_about_its_pivot(way):
    group = Group(
        anchor="bottom-right",
        at=(90, 80),
        pivot="center",
        children=[Rect(at=(5, 5), size=(40, 20))],
        steps=[{"rotate": 90}],
    )
    scene = Scene([group], size=(200, 160))
    scene.y_axis = way
    node = DisplayList(scene).node(group)
    (leg, *_), middle = measure(node, "steps", (0, 0)).faint, node.bounds()
    assert leg[0] == pytest.approx(((middle[0] + middle[2]) / 2, (middle[1] + middle[3]) / 2))
