"""What is repainted: after every edit the window shows what a window painted anew would show, at every device ratio."""

import random
import time

import numpy as np
import pytest
from agree import pixels
from greenhouse import greenhouse
from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from chalcedon.evaluate import DisplayList
from chalcedon.hit.index import HitIndex
from chalcedon.painter import render_image
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene, Step
from chalcedon.view.place import View
from chalcedon.view.tiles import Colors, Tiles
from fuzz.scenes import random_scene, some_value
from tests.each import each_change, page


def array(image):
    image = image.convertToFormat(QImage.Format.Format_RGB32)
    raw = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.bytesPerLine() // 4, 4)
    return raw[:, : image.width(), :3].astype(int)


class Shown:
    """The tiles of a scene, kept up to date as the canvas keeps them."""

    def __init__(self, scene, ratio):
        self.display = DisplayList(scene)
        self.index = HitIndex(self.display)
        self.tiles = Tiles(self.display, self.index, Colors)
        self.view = View()
        self.view.ratio = ratio
        self.size = QRect(0, 0, 300, 220)
        self.view.place(20, 20)

    def frame(self):
        changes = self.display.update()
        self.index.follow(changes)
        self.tiles.follow(changes)
        r = self.view.ratio
        image = QImage(int(300 * r), int(220 * r), QImage.Format.Format_RGB32)
        image.setDevicePixelRatio(r)
        image.fill(0xFFEFEDE8)
        self.tiles.zoom_to(self.view.zoom * r, self.view, 300, 220)
        while not self.tiles.refine(self.view, 300, 220, 1.0):
            pass
        painter = QPainter(image)
        from PySide6.QtCore import QSize
        from PySide6.QtGui import QRegion

        self.tiles.paint(painter, self.view, QRegion(self.size), QSize(300, 220), 10.0)
        painter.end()
        return array(image)


def edit(chance, scene):
    """One edit of any kind; what a value refuses is left."""
    shapes = list(scene.walk())
    shape = chance.choice(shapes)
    what = chance.random()
    if what < 0.75:
        name = chance.choice(list(shape.properties))
        try:
            scene.set(shape, name, some_value(chance, shape.properties[name].kind, 0.0))
        except ChalcedonError:
            pass
    elif what < 0.85 and len(shapes) > 6:
        scene.remove(shape)
    else:
        scene.undo() if chance.random() < 0.5 else scene.redo()


@pytest.mark.parametrize(("seed", "ratio"), [(1, 1.0), (1, 2.0), (4, 1.0), (4, 2.0)])
def test_after_any_edit_the_tiles_are_those_of_a_fresh_picture(seed, ratio, qapp):
    chance = random.Random(seed)
    scene = random_scene(seed, 10, wild=0.0)
    scene.size = (240, 160)
    shown = Shown(scene, ratio)
    shown.frame()
    for i in range(12):
        edit(chance, scene)
        now = shown.frame()
        fresh = Shown(scene, ratio)
        off = np.abs(now - fresh.frame()).max(axis=2)
        assert (off > 24).sum() <= 4, f"edit {i}: {(off > 24).sum()} px are old, first at {np.argwhere(off > 24)[:3]}"
        fresh.tiles.close()
        fresh.display.detach()
    shown.tiles.close()


def test_after_each_change_of_a_property_and_its_undo_the_tiles_are_those_of_a_fresh_picture(qapp):
    scene = page()
    shown = Shown(scene, 1.0)
    before = shown.frame()
    for what, done in each_change(scene):
        wanted = before
        if done:
            fresh = Shown(scene, 1.0)
            wanted = fresh.frame()
            fresh.tiles.close()
            fresh.display.detach()
        now = shown.frame()
        if not np.array_equal(now, wanted):
            off = np.abs(now - wanted).max(axis=2)
            assert (off > 24).sum() <= 4 and off.max() <= 64, (what, done, np.argwhere(off > 24)[:3])
    shown.tiles.close()


@pytest.mark.parametrize("ratio", [1.0, 1.25, 1.5, 2.0, 3.0])
@pytest.mark.parametrize(("zoom", "x", "y"), [(1.0, 20, 20), (0.6, -37, 90), (2.3, -210.4, -80.7), (1.1, 250, -60)])
def test_the_widget_shows_the_page_where_its_view_says(ratio, zoom, x, y, qapp):
    scene = random_scene(4, 10, wild=0.0)
    scene.size, scene.background = (240, 160), "#ffffff"
    shown = Shown(scene, ratio)
    shown.view.zoom = zoom
    shown.view.place(x, y)
    found = shown.frame()
    whole = pixels(render_image(scene, zoom * ratio))
    height, width = found.shape[:2]
    left, top = round(shown.view.x * ratio), round(shown.view.y * ratio)
    rows, columns = (np.arange(n) for n in (height, width))
    inside = np.ix_(
        rows[(rows >= top + 2) & (rows < top + whole.shape[0] - 3)],
        columns[(columns >= left + 2) & (columns < left + whole.shape[1] - 3)],
    )
    expected = whole[inside[0] - top, inside[1] - left][:, :, ::-1]
    assert expected.shape[0] > 20 and expected.shape[1] > 20
    off = np.abs(found[inside] - expected).max(axis=2) > 24
    assert off.sum() <= off.size * 1e-3, f"{off.sum()} of {off.size} px, first at {np.argwhere(off)[:3]}"
    shown.tiles.close()


@pytest.mark.parametrize("paint", [None, "#336699"])
def test_a_page_without_a_paint_looks_like_paper_and_all_around_it_like_the_desk(qapp, paint):
    shown = Shown(Scene(size=(100, 80), background=paint), 1.0)
    found = shown.frame()
    shown.tiles.close()

    def is_seen(x, y, color):
        return tuple(found[y, x, ::-1]) == QColor(color).getRgb()[:3]

    assert is_seen(70, 60, paint or Colors().page) and is_seen(150, 60, Colors().ground)


def on_screen(window):
    """What stands in the window: to grab a widget would have all of it painted."""
    quiet, end = 0, time.monotonic() + 10
    while quiet < 3 and time.monotonic() < end:  # a frame that comes late asks for more in idle slices
        QApplication.processEvents()
        busy = window.canvas._idle.isActive() or window.ledger.thumbs.behind or window.ledger.pace.waits
        quiet = 0 if busy else quiet + 1
    return array(window.screen().grabWindow(window.winId()).toImage())


def assert_fresh(window, what, within=None):
    """`within` is the widget that is looked at; None for all."""
    seen = on_screen(window)
    for part in window.findChildren(QWidget):
        part.update()
    off = np.abs(seen - on_screen(window)).max(axis=2) > 40
    if within is not None:
        at = within.mapTo(window, QPoint(0, 0))
        off = off[at.y() : at.y() + within.height(), at.x() : at.x() + within.width()]
    assert off.sum() <= 4, f"{what}: {off.sum()} px are old, {np.argwhere(off)[:1]} to {np.argwhere(off)[-1:]}"


@pytest.mark.parametrize("seed", [5, 7])
def test_after_any_edit_the_window_is_that_of_a_fresh_paint(desk, seed):
    chance = random.Random(seed)
    desk.session.new(random_scene(seed, 10, wild=0.0))
    scene, window = desk.session.scene, desk.w
    for i in range(20):
        if chance.random() < 0.3:
            desk.session.select([chance.choice(list(scene.walk()))])
        edit(chance, scene)
        desk.session.flush()
        window.checking.look()  # it would be a little later
        assert_fresh(window, f"edit {i}")


def test_all_that_shows_the_opened_shape_follows_it(desk):
    """Its small picture, the pictures of its steps, its other descriptions and its sentence among it."""
    desk.session.new(greenhouse())
    desk.session.select([desk["flower"]])
    for name, value in (
        ("steps", [Step("rotate", 75), Step("skew", (20, 0))]), ("inner", 8), ("pivot", "center"), ("fill", "#0000ff"),
        ("at", (300, 200)), ("stroke", "#22292e"), ("outer", 123.456), ("stroke_width", 7), ("opacity", 0.25),
        ("visible", False),
    ):  # fmt: skip
        desk["flower"].assign(name, value)
        desk.session.flush()
        desk.w.checking.look()  # it would be a little later
        assert_fresh(desk.w, name)


@pytest.mark.parametrize(("id", "at"), [("flower", None), ("flower", "corner"), ("pot", None)])
def test_while_a_hand_drags_the_canvas_is_that_of_a_fresh_paint(desk, id, at):
    """Over the whole canvas, into its corners too, where the word beside the pointer gives way."""
    desk.session.new(greenhouse())
    desk.session.select([desk[id]])
    desk.session.flush()
    canvas, left = desk.w.canvas, Qt.MouseButton.LeftButton
    box = canvas.view.matrix.map_box(desk.session.node(desk[id]).bounds())
    spot = QPoint(round(box[2]), round(box[3])) if at else QPoint(*(round((box[i] + box[i + 2]) / 2) for i in (0, 1)))
    QTest.mouseMove(canvas, spot)
    QTest.mousePress(canvas, left, Qt.KeyboardModifier.NoModifier, spot)
    try:
        for x, y in ((0.5, 0.5), (0.98, 0.5), (0.97, 0.97), (0.5, 0.98), (0.06, 0.96), (0.07, 0.08), (0.95, 0.07)):
            desk._move(
                canvas, QPoint(round(x * canvas.width()), round(y * canvas.height())), Qt.KeyboardModifier.NoModifier
            )
            assert_fresh(desk.w, f"{id} at {x}, {y}", canvas)
    finally:
        QTest.mouseRelease(canvas, left, Qt.KeyboardModifier.NoModifier, spot)


@pytest.mark.parametrize("command", ["rect", "line", "polyline", "path", "freehand", "text", ""])
def test_while_a_tool_draws_the_canvas_is_that_of_a_fresh_paint(desk, command):
    """Nothing is selected, so that all that stands there is the tool's own; without a tool a guide is pulled out."""
    desk.session.new(Scene(size=(640, 460)))
    canvas = desk.w.canvas
    if command:
        desk.w.run_command(f"shape.{command}")
    spots = [QPoint(8, 300), QPoint(90, 240), QPoint(canvas.width() - 20, 100), QPoint(300, canvas.height() - 30)]
    spots[0] += QPoint(60, 0) if command else QPoint(0, 0)
    QTest.mouseMove(canvas, spots[0])
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, spots[0])
    try:
        for spot in spots[1:]:
            desk._move(canvas, spot, Qt.KeyboardModifier.NoModifier)
            assert_fresh(desk.w, f"{command} at {spot.x()}, {spot.y()}", canvas)
    finally:
        QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, spots[-1])
    if command in ("polyline", "path"):
        for spot in spots[:2]:
            QTest.mouseMove(canvas, spot)
            assert_fresh(desk.w, f"{command} goes on at {spot.x()}, {spot.y()}", canvas)
    desk.key(Qt.Key.Key_Escape, widget=canvas)
    assert_fresh(desk.w, f"{command} is given up", canvas)


def test_a_group_is_unclipped_when_its_clip_is_undone(qapp):
    from chalcedon.hit import hit_test
    from chalcedon.scene import Circle, Group, Rect, Scene

    scene = Scene([Group(id="g", children=[Rect(id="r", size=(100, 100)), Circle(id="c", at=(50, 50), radius=9)])])
    before = array(render_image(scene))
    scene["g"].clip = "c"
    assert hit_test(scene, 5, 5) == [] and not np.array_equal(array(render_image(scene)), before)
    scene.undo()
    assert [h.id for h in hit_test(scene, 5, 5)] == ["r"] and np.array_equal(array(render_image(scene)), before)
