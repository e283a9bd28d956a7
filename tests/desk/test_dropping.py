"""Pictures and files that are dropped, pasted or placed by a click; lines drawn by hand."""

import math

import pytest
from PIL import Image as Pillow
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QColor, QDragEnterEvent, QDropEvent, QGuiApplication, QImage
from PySide6.QtWidgets import QApplication

from chalcedon import Scene, save_scene
from chalcedon.geometry.along import Along
from chalcedon.scene import Circle, Path, Polyline

Key, Mod = Qt.Key, Qt.KeyboardModifier


@pytest.fixture
def pictures(tmp_path):
    """Three pictures of different sizes and something that is none."""
    files = []
    for name, size in (("net", (60, 40)), ("2 buoys", (30, 90)), ("wide", (2400, 600))):
        file = tmp_path / f"{name}.png"
        Pillow.new("RGB", size, "#3e7f65").save(file)
        files.append(file)
    (tmp_path / "notes.txt").write_text("Low water at six")
    return [*files, tmp_path / "notes.txt"]


def mime_of(*files):
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(f)) for f in files])
    return mime


def drop(desk, mime, x, y):
    spot, copy = desk.w.canvas.mapTo(desk.w, desk.spot(x, y)), Qt.DropAction.CopyAction
    left, none = Qt.MouseButton.LeftButton, Mod.NoModifier
    enter = QDragEnterEvent(spot, copy, mime, left, none)
    QApplication.sendEvent(desk.w, enter)
    assert enter.isAccepted()
    QApplication.sendEvent(desk.w, QDropEvent(QPointF(spot), copy, mime, left, none))


def test_a_dropped_picture_has_its_own_size_about_the_pointer(desk, pictures):
    drop(desk, mime_of(pictures[0]), 300, 200)
    image = desk.session.current
    assert (image.id, image.size, image.at) == ("net", (60, 40), (270, 180))
    assert image.source.startswith("data:image/png") and desk.said == "Placed net, embedded."
    desk.session.undo()
    assert "net" not in desk.session.scene


def test_several_are_one_step_side_by_side_and_what_is_none_is_told(desk, pictures):
    desk.w.files._save(pictures[0].parent / "quay.chal")
    drop(desk, mime_of(*pictures), 100, 100)
    placed = desk.session.selection
    assert [i.id for i in placed] == ["net", "shape_2_buoys", "wide"]
    assert [i.size for i in placed] == [(60, 40), (30, 90), (800, 200)], "no larger than the page"
    assert [i.source for i in placed] == ["net.png", "2 buoys.png", "wide.png"], "they lie beside the scene"
    boxes = [(*i.at, i.at[0] + i.size[0], i.at[1] + i.size[1]) for i in placed]
    for i, a in enumerate(boxes):
        for b in boxes[i + 1 :]:
            assert a[2] <= b[0] or a[3] <= b[1], "none lies on another"
    assert desk.said.startswith("1 of 4 files are not placed: notes.txt.") or desk.said.startswith("'notes.txt' is not")
    desk.session.undo()
    assert not [s for s in desk.session.scene.walk() if s.kind == "image"]


def test_a_thousand_files_are_asked_about(desk, pictures):
    drop(desk, mime_of(*[pictures[0]] * 1000), 100, 100)
    assert desk.w.messages.asking and desk.said == "Place 1,000 pictures?"
    desk.w.messages._answers[0].click()
    assert len(desk.session.selection) == 100 and len({s.id for s in desk.session.selection}) == 100


def test_what_a_dropped_svg_shows_lies_about_the_pointer(desk, tmp_path):
    """The page of it, whatever part of that is painted."""
    file = tmp_path / "buoy.svg"
    file.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="120" height="60"><rect width="20" height="60"/></svg>'
    )
    drop(desk, mime_of(file), 300, 200)
    group = desk["buoy"]
    assert desk.chosen == ["buoy"] and desk.session.node(group).bounds() == (240, 170, 260, 230)


def test_a_dropped_scene_is_opened_and_dropped_text_is_read(desk, tmp_path):
    save_scene(Scene([Circle(id="lone")]), tmp_path / "other.chal")
    text = QMimeData()
    text.setText("circle 10 20 5 id bead")
    drop(desk, text, 100, 100)
    assert desk["bead"].radius == 5
    desk.session.scene.history.mark_saved()
    drop(desk, mime_of(tmp_path / "other.chal"), 100, 100)
    assert [s.id for s in desk.session.scene.walk()] == ["lone"]


def test_a_picture_and_files_are_pasted_into_the_middle(desk, pictures):
    picture = QImage(50, 20, QImage.Format.Format_ARGB32)
    picture.fill(QColor("#b8482a"))
    QGuiApplication.clipboard().setImage(picture)
    desk.key(Key.Key_V, Mod.ControlModifier)
    image = desk.session.current
    assert image.id == "picture" and image.size == (50, 20) and image.source.startswith("data:image/png")
    mime = mime_of(pictures[1])
    QGuiApplication.clipboard().setMimeData(mime)
    desk.key(Key.Key_V, Mod.ControlModifier)
    assert desk.session.current.size == (30, 90)
    x, y = desk.w.canvas.view.to_scene(desk.w.canvas.width() / 2, desk.w.canvas.height() / 2)
    at = desk.session.current.at
    assert at[0] + 15 == pytest.approx(x, abs=0.1) and at[1] + 45 == pytest.approx(y, abs=0.1)


def test_a_click_and_a_line_give_an_image_its_own_size(desk, pictures):
    desk.w.files._save(pictures[0].parent / "quay.chal")
    desk.line("image 80 20 net.png id first")
    assert desk["first"].size == (60, 40)
    desk.line("image 80 20 net.png 160 120 id second")
    assert desk["second"].size == (160, 120), "what is said holds, be it the usual"
    desk.line("image 80 20 id third")
    desk.w.files.show_image(desk["third"], str(pictures[1]))
    assert desk["third"].size == (30, 90)
    desk["third"].size = (60, 60)
    desk.w.files.show_image(desk["third"], str(pictures[0]))
    assert desk["third"].size == (60, 40), "it keeps its width"


def drawn(count=60):
    return [(450 + 80 * math.cos(a / count * 4.5), 200 + 80 * math.sin(a / count * 4.5)) for a in range(count + 1)]


def test_a_line_drawn_by_hand_is_a_smooth_path_of_few_points(desk):
    desk.key(Key.Key_J, widget=desk.w.canvas)
    assert desk.w.strip.buttons["freehand"].isChecked()
    desk.drag(*drawn())
    path = desk.session.current
    assert isinstance(path, Path) and path.data.count("C") <= 5 and "Z" not in path.data
    assert path.stroke is not None and path.fill is None
    node = desk.session.display.node(path)
    far = [abs(math.hypot(x - 450, y - 200) - 80) for x, y in _along(node)]
    assert max(far) < 3.5 and desk.session.scene.undo_name == f"Add {path.id}"


def _along(node):
    from chalcedon.geometry.flatten import flatten

    return [(v.x, v.y) for line in flatten(node.outline.mapped(node.world), 0.1) for v in line.vertices]


def test_back_at_the_start_it_is_closed_and_filled_and_shift_keeps_it_open(desk):
    ring = [(450 + 80 * math.cos(a / 10), 200 + 80 * math.sin(a / 10)) for a in range(63)]
    desk.w.canvas.set_kind("freehand", lock=True)
    desk.drag(*ring)
    assert "Z" in desk.session.current.data and desk.session.current.fill == desk.session.next_fill
    desk.drag(*ring, mods=Mod.ShiftModifier)
    assert "Z" not in desk.session.current.data
    before = len(list(desk.session.scene.walk()))
    desk.click(300, 300)
    assert len(list(desk.session.scene.walk())) == before and "button held down" in desk.said
    desk.drag((300, 300), (350, 320), (380, 360), release=False)
    desk.key(Key.Key_Escape, widget=desk.w.canvas)
    assert len(list(desk.session.scene.walk())) == before and not desk.w.canvas.tool.drawn


def test_a_line_drawn_by_hand_is_as_near_on_the_screen_at_any_zoom(desk):
    canvas, found = desk.w.canvas, {}
    for zoom in (0.5, 1.0, 4.0):
        for mods in (Mod.NoModifier, Mod.AltModifier):
            desk.session.new(Scene(size=(800, 500)))
            desk.session.snaps = False
            canvas.repaint()  # shows the whole page first
            canvas.view.zoom = zoom
            canvas.view.place(40, 40)
            canvas.set_kind("freehand")
            spots = [QPoint(100 + i * 3, round(200 + 60 * math.sin(i / 9))) for i in range(100)]
            desk._drag(canvas, spots, mods)
            node = desk.session.node(desk["path"])
            on = Along(node.outline.mapped(node.world))
            away = [on.nearest(*canvas.view.to_scene(q.x(), q.y()))[1] * zoom for q in spots]
            found[zoom, mods] = desk["path"].data.count("C")
            assert canvas.view.zoom == zoom and max(away) < (4.0 if mods == Mod.NoModifier else 2.5), (zoom, mods)
    plain = [found[zoom, Mod.NoModifier] for zoom in (0.5, 1.0, 4.0)]
    fine = [found[zoom, Mod.AltModifier] for zoom in (0.5, 1.0, 4.0)]
    assert max(plain) - min(plain) <= 1 and max(fine) - min(fine) <= 2, "the same hand makes the same line"
    assert min(fine) > max(plain), "with Alt it is finer"


def test_an_outline_becomes_a_polyline_while_the_tolerance_is_typed(desk):
    desk.session.select([desk["moon"]])
    desk.w.run_command("outline.polyline")
    entry = next(w for w in desk.w.messages._answers if hasattr(w, "selectAll"))
    count = len(desk["moon"].points)
    entry.selectAll()
    desk.type("8", entry)
    assert isinstance(desk["moon"], Polyline) and len(desk["moon"].points) < count
    desk.key(Key.Key_Return, widget=entry)
    assert desk["moon"].fill == "#f1e4bd" and desk["moon"].closed
    desk.session.undo()
    assert desk["moon"].kind == "circle", "one step, whatever was typed"
