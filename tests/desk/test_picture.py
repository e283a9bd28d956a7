"""What the canvas shows, against the same scene painted in one go."""

import numpy as np
import pytest
from PySide6.QtCore import QRect, QSize
from PySide6.QtGui import QColor, QImage, QPainter, QRegion
from PySide6.QtWidgets import QApplication

from chalcedon.desk.looks.theme import theme
from chalcedon.evaluate import DisplayList
from chalcedon.geometry import Affine
from chalcedon.hit import HitIndex, HitTester
from chalcedon.painter import PaintJob
from chalcedon.painter.job import FORMAT
from chalcedon.scene import Circle, Group, Polyline, Rect, Scene
from chalcedon.view.place import View
from chalcedon.view.tiles import SIZE, Colors, Tiles

WIDTH, HEIGHT = 700, 420


def scene_of(count):
    shapes = [Rect(id="ground", size=(500, 300), fill="#15213a")]
    for i in range(count):
        shapes.append(
            Circle(
                id=f"c{i}",
                at=(i * 37 % 480 + 10, i * 53 % 280 + 10),
                radius=6 + i % 7,
                fill=f"#{(i * 7919) % 0xFFFFFF:06x}",
                stroke="#ffffff",
                stroke_width=1.5,
            )
        )
    shapes.append(
        Group(
            id="haze",
            opacity=0.5,
            children=[
                Rect(id="h1", at=(50, 50), size=(200, 100)),
                Rect(id="h2", at=(100, 80), size=(200, 100), fill="#3e7f65"),
            ],
        )
    )
    shapes.append(
        Polyline(
            id="kite",
            at=(250, 150),
            points=[(0, -60), (40, 0), (0, 60), (-40, 0)],
            closed=True,
            steps=[{"rotate": 12}],
            fill="#b8482a",
        )
    )
    return Scene(shapes, size=(500, 300), background="#efe0b0")


class Shown:
    """Tiles with a scene, shown on an image as the canvas shows them."""

    def __init__(self, scene):
        self.scene = scene
        self.display = DisplayList(scene)
        self.index = HitIndex(self.display)
        self.tiles = Tiles(self.display, self.index, Colors)
        self.view = View()
        self.view.place(40, 30)

    def follow(self):
        changes = self.display.update()
        self.index.follow(changes)
        self.tiles.follow(changes)

    def frame(self, seconds=1000.0):
        image = QImage(WIDTH, HEIGHT, FORMAT)
        image.fill(QColor("magenta"))
        self.tiles.zoom_to(self.view.zoom, self.view, WIDTH, HEIGHT)
        painter = QPainter(image)
        self.done = self.tiles.paint(
            painter, self.view, QRegion(QRect(0, 0, WIDTH, HEIGHT)), QSize(WIDTH, HEIGHT), seconds
        )
        painter.end()
        return image

    def at_once(self):
        """The page in one pass, without tiles."""
        image = QImage(WIDTH, HEIGHT, FORMAT)
        image.fill(QColor(theme().desk))
        v = self.view
        m = Affine(v.zoom, 0, 0, v.zoom, v.x, v.y)
        w, h = self.scene.size
        box = m.map_box((0, 0, w, h))
        painter = QPainter(image)
        painter.fillRect(
            QRect(round(box[0]), round(box[1]), round(box[2] - box[0]), round(box[3] - box[1])),
            QColor(self.scene.background),
        )
        painter.end()
        PaintJob(self.display, [n for n in self.display.order if n.visible], image, m).run()
        return image

    def page(self):
        """The part of the image that is surely on the page."""
        v = self.view
        w, h = self.scene.size
        left, top = max(0, int(v.x) + 2), max(0, int(v.y) + 2)
        right, bottom = min(WIDTH, int(v.x + w * v.zoom) - 2), min(HEIGHT, int(v.y + h * v.zoom) - 2)
        return slice(top, bottom), slice(left, right)

    def wrong(self, image):
        """The share of px on the page that differ visibly."""
        a, b = (
            np.frombuffer(i.constBits(), np.uint8).reshape(HEIGHT, WIDTH, 4).astype(int)[self.page()]
            for i in (image, self.at_once())
        )
        return (np.abs(a - b).max(axis=2) > 24).mean()


@pytest.fixture(params=[20, 700])
def shown(request, qapp):
    it = Shown(scene_of(request.param))
    yield it
    it.tiles.close()


def test_tiles_show_the_scene_at_every_zoom_and_place(shown):
    for zoom, x, y in ((1.0, 40, 30), (0.5, 300, 100), (3.0, -500, -300), (17.0, -4000, -2500), (0.07, 200, 200)):
        shown.view.zoom = zoom
        shown.view.place(x, y)
        assert shown.wrong(shown.frame()) < 0.002, f"at {zoom}"
        assert shown.done


def test_repairs_after_edits_leave_nothing_behind(shown):
    scene = shown.scene
    shown.frame()
    painted = shown.tiles.painted
    scene["c3"].at = (400, 40)
    shown.follow()
    assert shown.wrong(shown.frame()) == 0
    assert shown.tiles.painted - painted < len(shown.display.order), "only what changed is painted again"
    for edit in (
        lambda: scene.move(scene["kite"], scene.top, 1),
        lambda: scene.remove(scene["haze"]),
        scene.undo,
        lambda: scene["haze"].assign("opacity", 0.9),
        lambda: scene["kite"].assign("stroke", "#ffffff"),
        lambda: scene["kite"].assign("stroke_width", 30),
        lambda: scene["c5"].assign("visible", False),
        lambda: scene.assign("background", "#334455"),
        scene.undo,
        scene.undo,
    ):
        edit()
        shown.follow()
        assert shown.wrong(shown.frame()) < 0.0005


def test_slices_come_to_the_same_picture_and_show_the_old_one_meanwhile(shown):
    whole = shown.frame()
    shown.tiles.forget()
    between = shown.frame(seconds=0.0)
    assert between == whole, "old tiles are shown until new ones are done"
    slices = 0
    while not shown.tiles.refine(shown.view, WIDTH, HEIGHT, 0.0005):
        slices += 1
        if slices == 3:
            shown.scene["c1"].at = (300, 200)
            shown.follow()
        assert slices < 5000
    assert shown.wrong(shown.frame()) < 0.0005


def test_zooming_moves_the_old_picture_at_once(shown):
    shown.frame()
    shown.view.zoom_about(2.0, 300, 200)
    quick = shown.frame(seconds=0.0)
    middle = quick.pixelColor(300, 200)
    sharp = shown.at_once().pixelColor(300, 200)
    assert "#ff00ff" not in {quick.pixelColor(x, y).name() for x in range(0, WIDTH, 9) for y in range(0, HEIGHT, 9)}
    assert abs(middle.red() - sharp.red()) < 90


def test_what_lies_off_the_page_is_veiled():
    shown = Shown(Scene([Rect(id="r", at=(-30, 10), size=(100, 50), fill="#000000")], size=(200, 100)))
    image = shown.frame()
    assert image.pixelColor(40 + 20, 30 + 20).name() == "#000000"
    ghost, desk = image.pixelColor(40 - 10, 30 + 20), QColor(theme().desk)
    assert desk.red() - 90 < ghost.red() < desk.red() - 10, "seen, but faint"
    shown.tiles.close()


def test_tiles_far_from_view_are_given_up(qapp):
    shown = Shown(scene_of(3))
    shown.view.zoom = 20
    for i in range(30):
        shown.view.place(-i * 3 * SIZE, -(i % 7) * 2 * SIZE)
        shown.frame()
    assert len(shown.tiles.tiles) < 450
    shown.tiles.close()


def test_the_window_answers_while_a_large_scene_is_painted(desk):
    """A big shape dragged over thousands: every event is taken in time, and the picture catches up."""
    shapes = [Circle(id=f"c{i}", at=(i * 37 % 790, i * 53 % 490), radius=9, fill="#dca443") for i in range(3000)]
    desk.session.new(Scene([Rect(id="big", at=(0, 0), size=(600, 400), fill="#3e7f65"), *shapes], size=(800, 500)))
    canvas = desk.w.canvas
    canvas.repaint()
    desk.session.select([desk["big"]])
    for x in range(20):
        with desk.session.step("Move big", "drag"):
            desk["big"].at = (x * 5, x * 3)
        canvas.repaint()
    for _ in range(3000):
        QApplication.processEvents()
        if not canvas._idle.isActive():
            break
    assert not canvas._idle.isActive(), "it comes to rest"
    tester: HitTester = desk.session.tester
    assert tester.index._grid is not None, "and the index is ready"
    picture = canvas.grab().toImage()
    desk.session.select([])
    right = 0
    spots = [(x, y) for x in range(20, 780, 40) for y in range(20, 480, 40)]
    for x, y in spots:
        hit = tester.hit_test(x + 0.5, y + 0.5, first=True)
        wx, wy = canvas.view.to_widget(x, y)
        expected = hit[0].shape.fill if hit else "#ffffff"
        right += picture.pixelColor(int(wx), int(wy)).name() == expected
    assert right / len(spots) > 0.85, "what is seen is what is hit, but for smoothed edges and the handles"
