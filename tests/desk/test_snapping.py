"""Snapping by hand: drawing, moving, sizing, points; guides and the grid."""

import math

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from chalcedon import Circle, Line, Polyline, Rect, Scene, render_bytes

Key, Mod = Qt.Key, Qt.KeyboardModifier


def show(desk, scene, name):
    """Opens a scene at 100 %, with snapping on."""
    desk.session.new(scene, name)
    desk.session.snaps = True
    QApplication.processEvents()
    desk.w.canvas.repaint()
    desk.w.canvas.view.zoom = 1.0
    desk.w.canvas.view.place(40, 40)


@pytest.fixture
def page(desk):
    scene = Scene(
        [
            Rect(id="crate", at=(100.25, 80), size=(120, 60), fill="#dca443"),
            Circle(id="moon", at=(430.5, 200.5), radius=33.5, fill="#f1e4bd"),
            Polyline(id="sail", at=(600, 100), points=[(0, 0), (60, 0), (0, 90)], fill="#f3ecdc"),
        ],
        size=(800, 500),
    )
    show(desk, scene, "page")
    return desk


def words(desk):
    return [m.words for m in desk.w.canvas.snapping.marks]


def test_three_circles_equally_large_and_far_apart_in_six_actions(desk):
    show(desk, Scene(size=(800, 500)), "buoys")
    for x, radius in ((150, 40), (301, 38), (447, 43)):
        desk.key(Key.Key_C, widget=desk.w.canvas)
        desk.drag((x, 203), (x + 10, 203), (x + radius, 203))
    first, second, third = desk.session.scene.shapes
    assert first.radius == second.radius == third.radius == 40
    assert second.at[0] - first.at[0] == third.at[0] - second.at[0] == 151
    assert first.at[1] == second.at[1] == third.at[1]


def test_a_moved_shape_lines_up_and_says_with_what(page):
    desk = page
    desk.drag((150, 110), (160, 120), (163, 231), release=False)
    assert words(desk) == ["centre of moon"]
    assert desk["crate"].at == (100.25 + 13, 200.5), "the other way it goes by whole px"


def test_alt_suspends_it_and_the_switch_ends_it(page):
    desk = page
    spot = (430, 203)
    desk.key(Key.Key_P, widget=desk.w.canvas)
    desk.hover(*spot)
    assert words(desk) == ["centre of moon"]
    desk.click(*spot, mods=Mod.AltModifier)
    assert words(desk) == [] and desk.w.canvas.tool.points[-1] == spot
    desk.key(Key.Key_Escape, widget=desk.w.canvas)
    desk.key(Key.Key_Escape, widget=desk.w.canvas)
    desk.w.run_command("view.snap")
    assert desk.session.snaps is False and desk.said == "Nothing snaps any more."
    desk.key(Key.Key_P, widget=desk.w.canvas)
    desk.hover(*spot)
    assert words(desk) == []


def test_points_that_are_clicked_are_exactly_there(page):
    desk = page
    desk.key(Key.Key_P, widget=desk.w.canvas)
    desk.click(432, 199)
    desk.click(222, 138)
    desk.key(Key.Key_Escape, widget=desk.w.canvas)
    made = desk.session.current
    ends = [(made.at[0] + x, made.at[1] + y) for x, y in made.points]
    assert ends == [(430.5, 200.5), (220.25, 140)]


def test_a_line_is_drawn_onto_an_outline(page):
    desk = page
    desk.key(Key.Key_L, widget=desk.w.canvas)
    desk.drag((500, 400), (490, 390), (430 + 25, 201 + 25))
    line = desk.session.current
    assert isinstance(line, Line)
    x, y = line.at[0] + line.to[0], line.at[1] + line.to[1]
    assert math.dist((x, y), (430.5, 200.5)) == pytest.approx(33.5, abs=0.02)


def test_a_side_becomes_as_wide_as_another(page):
    desk = page
    desk.key(Key.Key_R, widget=desk.w.canvas)
    desk.drag((300, 350), (310, 360), (423, 437), release=False)
    assert any(w == "as wide as crate, 120" for w in words(desk))
    desk.w.canvas.tool.release(desk.w.canvas.tool._last)
    assert desk.session.current.size[0] == 120


def test_a_handle_and_a_point_snap(page):
    desk = page
    desk.click(150, 100)
    desk.drag((220, 140), (230, 150), (431, 203))
    assert desk["crate"].size == (330.25, 120.5) and desk["crate"].at == (100.25, 80)
    desk.w.canvas.edit_points(desk["sail"])
    desk.drag((660, 100), (650, 110), (432, 199))
    assert desk["sail"].points[1] == (430.5 - 600, 100.5)


def test_the_box_of_several_snaps(page):
    desk = page
    desk.session.select([desk["crate"], desk["moon"]])
    before = desk["crate"].size
    x, y = desk.w.canvas.view.to_scene(*dict_of_spots(desk)["size", 3])
    desk.drag((x, y), (x + 20, y), (600 + 2 + (x - 464), y))
    assert desk["crate"].size[0] > before[0]
    right = desk["moon"].at[0] + desk["moon"].radius
    assert desk.w.canvas.tool.hold.box[2] == pytest.approx(right)


def dict_of_spots(desk):
    hold = desk.w.canvas.tool.hold
    return dict(hold.spots())


def test_guides_are_pulled_out_of_the_rulers_moved_and_put_back(page):
    desk = page
    canvas, scene = desk.w.canvas, desk.session.scene
    x0, y0 = canvas.view.to_scene(8, 300)
    desk.drag((x0, y0), (100, 300), (332, 300))
    assert scene.guides_x == (332,) and scene.undo_name == "Move a guide"
    desk.drag((332, 300), (340, 300), (429, 301))
    assert scene.guides_x == (430.5,), "it snaps to the centre of the moon"
    x1, y1 = canvas.view.to_scene(300, 6)
    desk.drag((x1, y1), (300, 80), (300, 333))
    assert scene.guides_y == (333,)
    desk.key(Key.Key_R, widget=canvas)
    desk.drag((432, 331), (450, 380), (500, 402))
    assert desk.session.current.at == (430.5, 333)
    desk.drag((300, 333), (300, 200), (x1, y1))
    assert scene.guides_y == ()
    desk.session.undo()
    assert scene.guides_y == (333,)
    desk.w.run_command("view.no_guides")
    assert scene.guides_x == scene.guides_y == ()


def test_escape_puts_a_guide_back_where_it_was(page):
    desk = page
    desk.session.scene.guides_x = (300,)
    desk.session.flush()
    desk.drag((300, 400), (310, 400), (360, 400), release=False)
    assert desk.session.scene.guides_x == (360,)
    desk.key(Key.Key_Escape, widget=desk.w.canvas)
    assert desk.session.scene.guides_x == (300,)


def test_what_is_drawn_snaps_to_the_grid_that_is_shown(page):
    desk = page
    desk.w.run_command("view.grid")
    assert desk.session.grid == 20
    desk.key(Key.Key_R, widget=desk.w.canvas)
    desk.drag((503, 303), (520, 320), (562, 358))
    made = desk.session.current
    assert (made.at, made.size) == ((500, 300), (60, 60))
    desk.w.run_command("view.grid")
    assert desk.session.grid is None


def test_guides_are_saved_and_never_painted(page, tmp_path):
    desk = page
    picture = render_bytes(desk.session.scene)
    desk.session.scene.guides_x = (10, 20.5)
    assert render_bytes(desk.session.scene) == picture
    desk.session.save(tmp_path / "a.chal")
    desk.session.open(tmp_path / "a.chal")
    assert desk.session.scene.guides_x == (10, 20.5)
