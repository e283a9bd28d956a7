"""Points, shape algebra, check-up, alignment and measuring, by hand in a real window."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest

from chalcedon.desk.canvas.editpoints import PointsTool
from chalcedon.files import read_scene, scene_bytes
from chalcedon.files.check import check_scene
from chalcedon.formula import Formula
from chalcedon.scene import Path

Key, Mod = Qt.Key, Qt.KeyboardModifier


def points(desk, id, x, y):
    """Selects a shape by a click and begins to edit its points by the key."""
    desk.click(x, y)
    assert desk.chosen == [id]
    desk.key(Key.Key_E, Mod.ShiftModifier, widget=desk.w.canvas)
    assert isinstance(desk.w.canvas.tool, PointsTool) and desk.w.canvas.point_bar.isVisible()
    return desk.w.canvas.tool


def written(desk):
    """The scene as its file would have it, read again."""
    opened = read_scene(scene_bytes(desk.session.scene))
    assert not opened.problems and opened.scene.equals(desk.session.scene)
    return opened.scene


def test_a_polyline_is_edited_point_by_point(desk):
    tool = points(desk, "sail", 440, 270)
    desk.click(480, 290)
    assert tool.chosen == {(0, 1)}
    desk.drag((480, 290), (490, 300), (500, 310))
    assert desk["sail"].points[1] == (80, 20) and desk.session.scene.undo_name == "Move a point of sail"
    desk.click(450, 245)  # on the outline, between the second and the third
    assert len(desk["sail"].points) == 4
    desk.key(Key.Key_Delete, widget=desk.w.canvas)
    assert len(desk["sail"].points) == 3 and desk.session.scene.undo_name == "Delete 1 point of sail"
    desk.key(Key.Key_Tab, widget=desk.w.canvas)
    assert tool.chosen == {(0, 0)}
    for mods, knot in ((Mod.NoModifier, 1), (Mod.ShiftModifier, 0), (Mod.ShiftModifier, 2), (Mod.NoModifier, 0)):
        desk.key(Key.Key_Tab, mods, widget=desk.w.canvas)
        assert tool.chosen == {(0, knot)}
    desk.key(Key.Key_Right, Mod.ShiftModifier, widget=desk.w.canvas)
    assert desk["sail"].points[0] == (10, 0)
    desk.key(Key.Key_Escape, widget=desk.w.canvas)
    desk.key(Key.Key_Escape, widget=desk.w.canvas)
    assert not isinstance(desk.w.canvas.tool, PointsTool) and not desk.w.canvas.point_bar.isVisible()
    written(desk)


def test_smoothing_makes_a_path_and_undo_the_polyline_again(desk):
    points(desk, "sail", 440, 270)
    desk.click(420, 200)
    desk.key(Key.Key_S, Mod.ShiftModifier, widget=desk.w.canvas)
    assert isinstance(desk["sail"], Path) and "C" in desk["sail"].data
    assert desk.session.scene.undo_name == "Smooth a point of sail"
    assert isinstance(desk.w.canvas.tool, PointsTool), "the points go on being edited"
    desk.key(Key.Key_C, Mod.ShiftModifier, widget=desk.w.canvas)
    assert "C" not in desk["sail"].data
    for _ in range(2):
        desk.session.undo()
    assert desk["sail"].kind == "polyline" and desk["sail"].closed
    written(desk)


def test_a_control_is_dragged_with_the_one_across_and_alone_with_alt(desk):
    desk.line("path wave 100 400 'M0 0 C0 -40 40 -60 80 -60 C120 -60 160 -40 160 0' fill none stroke black 3")
    desk.session.select([desk["wave"]])
    desk.w.canvas.edit_points(desk["wave"])
    desk.click(180, 340)
    desk.drag((220, 340), (220, 330), (220, 320))
    assert desk["wave"].data == "M0 0 C0 -40 44.223 -42.111 80 -60 C120 -80 160 -40 160 0"
    desk.session.undo()
    desk.drag((220, 340), (220, 330), (220, 320), mods=Mod.AltModifier)
    assert "40 -60 80 -60" in desk["wave"].data and "C120 -80" in desk["wave"].data


def test_splitting_joining_closing_and_reversing(desk):
    desk.line("polyline rail 100 400 0 0 50 0 100 20 150 0 stroke black 3")
    desk.w.canvas.edit_points(desk["rail"])
    desk.click(200, 420)
    desk.w.canvas.point_bar.buttons["split"].click()
    assert desk["rail"].points == ((0, 0), (50, 0), (100, 20)) and "rail_2" in desk.session.scene
    desk.w.canvas.set_kind("")
    desk.session.select([desk["rail"], desk["rail_2"]])
    desk.key(Key.Key_J, Mod.ControlModifier, widget=desk.w.canvas)
    assert "rail_2" not in desk.session.scene and len(desk["rail"].points) == 4
    desk.key(Key.Key_R, Mod.ShiftModifier, widget=desk.w.canvas)
    first = desk["rail"].points[0]
    assert desk.session.scene.undo_name == "Reverse rail"
    desk.key(Key.Key_Z, Mod.ShiftModifier, widget=desk.w.canvas)
    assert desk["rail"].closed and desk["rail"].points[0] == first
    written(desk)


def test_a_rect_is_offered_to_become_a_path(desk):
    desk.click(150, 150)
    desk.key(Key.Key_E, Mod.ShiftModifier, widget=desk.w.canvas)
    assert "not by points" in desk.said
    desk.w.messages._answers[0].click()
    assert desk["wall"].kind == "path" and isinstance(desk.w.canvas.tool, PointsTool)
    desk.session.undo()
    assert desk["wall"].kind == "rect"


def test_typed_numbers_place_a_point(desk):
    points(desk, "sail", 440, 270)
    desk.drag((480, 290), (490, 300), (500, 310), release=False)
    desk.type("75,-5", desk.w.canvas)
    desk.key(Key.Key_Return, widget=desk.w.canvas)
    assert desk["sail"].points[1] == (75, -5)


# algebra and offsets


@pytest.mark.parametrize("name", ["union", "difference", "intersection", "exclusion"])
def test_shapes_are_combined_by_a_command(desk, name):
    desk.line("circle knob 300 160 60 fill #7fa3b8")
    desk.session.select([desk["wall"], desk["knob"]])
    desk.w.run_command(f"outline.{name}")
    assert desk.chosen == [name] and desk[name].kind == "path" and desk[name].fill == "#dca443"
    assert "wall" not in desk.session.scene
    written(desk)
    desk.session.undo()
    assert {"wall", "knob"} <= set(desk.order)
    desk.session.select([desk["wall"]])
    desk.w.run_command(f"outline.{name}")
    assert "two shapes or more" in desk.said


def test_an_offset_follows_the_number_and_can_be_taken_back(desk):
    desk.session.select([desk["wall"]])
    desk.w.run_command("outline.offset")
    entry = desk.w.messages._answers[0]
    assert entry.hasFocus() and "wall_offset" in desk.session.scene
    entry.setText("5*3")
    assert desk.session.node(desk["wall_offset"]).bounds()[0] == pytest.approx(85)
    desk.key(Key.Key_Return, widget=entry)
    assert desk.session.scene.undo_name == "Offset wall by 15" and desk.order.index("wall_offset") < desk.order.index(
        "wall"
    )
    desk.session.select([desk["moon"]])
    desk.w.run_command("outline.offset")
    desk.key(Key.Key_Escape, widget=desk.w.messages)
    assert "moon_offset" not in desk.session.scene


def test_the_outline_of_a_stroke(desk):
    desk.session.select([desk["rope"]])
    desk.w.run_command("outline.stroke")
    assert desk.chosen == ["rope_stroke"] and "rope" not in desk.session.scene
    assert desk["rope_stroke"].fill == "#ffffff"


# check-up


def test_the_check_up_speaks_in_the_row_and_repairs_there(desk):
    desk.line("polyline roof 100 400 0 0 80 0 40 -50 0 0 stroke black 6")
    desk.session.select([desk["roof"]])
    desk.w.checking.look()
    assert [r.what for r in desk.session.remarks] == ["touching ends"]
    desk.click_cell("roof", "repair", "closed")
    assert desk["roof"].closed and len(desk["roof"].points) == 3
    assert desk.session.remarks == [] and desk.session.scene.undo_name == "Close roof"
    desk.session.undo()
    desk.w.checking.look()
    assert desk.session.remarks


def test_what_is_wrong_with_the_scene_itself_is_repaired_as_well(desk):
    desk.session.scene.palette = {"foam": Formula("mix('white', froth, 0.5)", "#eeeeee")}
    desk.session.flush()
    desk.session.select([desk["moon"]])
    (remark,) = [r for r in check_scene(desk.session.display) if "froth" in r.sentence]
    desk.w.checking.repair(remark.repairs[0], remark)
    assert dict(desk.session.scene.stated("palette")) == {"foam": "#eeeeee"} and desk.chosen == ["moon"]
    assert desk.session.remarks == []


def test_the_round_goes_through_everything(desk):
    desk.line("polyline roof 100 400 0 0 80 0 40 -50 0 0 stroke black 6")
    desk.line("rect net 300 400 50 50 fill red stroke red 4")
    desk.key(Key.Key_F9, widget=desk.w.canvas)
    assert desk.said.startswith("1 of 2 · roof") and desk.chosen == ["roof"]
    desk.w.messages._answers[-1].click()
    assert desk.said.startswith("2 of 2 · net") and not desk["roof"].closed
    desk.w.messages._answers[0].click()
    assert desk["net"].stroke is None and "last remark" in desk.said
    desk["roof"].closed = True
    desk["roof"].points = desk["roof"].points[:3]
    desk.w.run_command("outline.check")
    assert "nothing to remark" in desk.said


# placing


def test_aligning_spreading_and_sizing(desk):
    for i, x in enumerate((100, 180, 300)):
        desk.line(f"rect post_{i} {x} {300 + 10 * i} {20 + i} 40")
    posts = [desk[f"post_{i}"] for i in range(3)]
    desk.session.select(posts)
    desk.key(Key.Key_Up, Mod.AltModifier | Mod.ShiftModifier, widget=desk.w.canvas)
    assert [p.at[1] for p in posts] == [320, 320, 320] and desk.session.scene.undo_name.startswith("Align")
    desk.w.run_command("place.gaps_x")
    assert posts[1].at[0] == pytest.approx((120 + 300 - 21) / 2)
    desk.w.run_command("place.size")
    assert {p.size for p in posts} == {(22, 40)}
    desk.w.run_command("place.size")
    assert "already" in desk.said
    desk.w.run_command("place.gap_x")
    desk.w.messages._answers[0].setText("8")
    desk.key(Key.Key_Return, widget=desk.w.messages._answers[0])
    lefts = sorted(p.at[0] for p in posts)
    assert lefts[1] - lefts[0] == pytest.approx(30) and lefts[2] - lefts[1] == pytest.approx(30)
    desk.w.run_command("place.at")
    assert len({p.at for p in posts}) == 1


def test_a_copy_at_each_corner(desk):
    desk.line("circle rivet 20 20 3")
    desk.session.select([desk["rivet"], desk["wall"]])
    desk.w.run_command("place.copies")
    assert len(desk.chosen) == 4 and {desk[i].at for i in desk.chosen} == {
        (100, 100),
        (300, 100),
        (300, 220),
        (100, 220),
    }


# measuring


def test_measuring_says_distance_and_angle_and_changes_nothing(desk):
    desk.session.snaps = True
    before = scene_bytes(desk.session.scene)
    desk.key(Key.Key_D, widget=desk.w.canvas)
    desk.drag((102, 101), (250, 180), (302, 219))
    assert "distance 233.24, angle 30.96°, dx 200, dy 120" in desk.said, "corners are caught"
    assert "233.24" in desk.w.hint.text()
    desk.drag((10, 450), (60, 455), (110, 460), mods=Mod.ShiftModifier)
    assert "angle 0°" in desk.said
    desk.key(Key.Key_Escape, widget=desk.w.canvas)
    assert desk.w.canvas.tool.hint.startswith("Click selects")
    assert scene_bytes(desk.session.scene) == before and not desk.session.scene.history.changed


def test_a_reference_picture_is_laid_under_dimmed_and_scaled_by_a_measure(desk, tmp_path):
    from PIL import Image

    Image.new("RGB", (40, 20), "#00ff00").save(tmp_path / "plan.png")
    desk.session.scene.folder = str(tmp_path)
    desk["sky"].visible = False
    desk.session.flush()
    desk.w.canvas.measure()
    desk.drag((10, 450), (60, 450), (110, 450))
    desk.w.show_reference()
    panel = desk.w.reference_panel
    panel.attempt(lambda: panel.show_file(str(tmp_path / "plan.png")))
    scene = desk.session.scene
    assert (scene.reference, scene.reference_width) == ("plan.png", 800)
    panel.real.setText("50")
    panel.scale.click()
    assert scene.reference_width == 400 and scene.reference_at == (5, 225)
    panel.fields["opacity"].setText("0.8")
    panel.fields["opacity"].editingFinished.emit()
    panel.fields["opacity"].setText("7")
    panel.fields["opacity"].editingFinished.emit()
    assert scene.reference_opacity == 0.8 and "opacity" in panel.complaint.text()
    panel.close()
    desk.w.canvas.repaint()
    QTest.qWait(100)
    shot = desk.w.canvas.grab().toImage()
    spot = desk.spot(50, 300) * shot.devicePixelRatio()
    red, green, blue, _ = shot.pixelColor(QPoint(spot)).getRgb()
    assert (red, blue) == pytest.approx((51, 51), abs=3) and green == 255
    written(desk)
    panel.attempt(lambda: panel.show_file(""))
    assert scene.reference == ""


def test_copied_paths_texts_and_paints_come_back_from_the_clipboard(desk):
    desk.line("path wave 100 400 'M0 0 A40 20 0 0 1 80 0 Z' fill linear 90 #f4b860 #b8482a shadow 2 3 4 #0008")
    desk.line("text sign 300 400 'Low water' 30 weight 700")
    desk.session.select([desk["wave"], desk["sign"]])
    desk.w.edits.copy()
    assert "linear(" in QGuiApplication.clipboard().text()
    desk.w.edits.paste()
    for id in ("wave", "sign"):
        assert desk[id]._values == desk[f"{id}_2"]._values
    written(desk)


def test_a_gap_is_asked_for_in_its_own_direction(desk):
    desk.session.select([desk["wall"], desk["moon"]])
    for command, way in (("place.gap_x", "across"), ("place.gap_y", "down")):
        before = [s.at for s in desk.session.selection]
        desk.w.run_command(command)
        assert f"going {way}" in desk.said and [s.at for s in desk.session.selection] != before
        desk.w.messages.dismiss()
        assert [s.at for s in desk.session.selection] == before
