"""Painting: the binding is sound, slices and repairs give the same picture as one pass, layers fade as one."""

import sys
import time

import numpy as np
import pytest
import shiboken6
from hypothesis import given, settings
from hypothesis import strategies as st
from PySide6.QtCore import QRect
from PySide6.QtGui import QColor, QImage, QPainter, QTransform
from strategies import leaves, scenes

from chalcedon.evaluate import DisplayList
from chalcedon.geometry import Affine
from chalcedon.painter import PaintJob, job, render_image
from chalcedon.painter.convert import NO_BRUSH, NO_PEN
from chalcedon.painter.export import headless
from chalcedon.painter.job import FORMAT
from chalcedon.painter.outlines import transform
from chalcedon.painter.pictures import Wanted, write_picture
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Group, Rect, Scene


@pytest.fixture(autouse=True)
def app(qapp):
    return headless()


def test_the_binding_keeps_its_references():
    """Some versions of the binding lose a reference to None in each setter, and die after a few thousand."""
    image = QImage(8, 8, FORMAT)
    painter = QPainter(image)
    matrix = QTransform()
    before = sys.getrefcount(None)
    for _ in range(7000):
        painter.setTransform(matrix)
        painter.setPen(NO_PEN)
        painter.setBrush(NO_BRUSH)
    painter.end()
    assert abs(sys.getrefcount(None) - before) < 200


def test_rows_of_an_array_are_fragments_of_a_pixmap():
    """Ready pictures are laid down by the thousand through such rows."""
    rows = np.arange(30, dtype=np.float64).reshape(3, 10)
    found = shiboken6.wrapInstance(rows.__array_interface__["data"][0] + 80, QPainter.PixmapFragment)
    names = "x y sourceLeft sourceTop width height scaleX scaleY rotation opacity"
    assert [getattr(found, name) for name in names.split()] == rows[1].tolist()


def test_colours_and_order():
    scene = Scene(
        [
            Rect(id="a", at=(0, 0), size=(20, 20), fill="#ff0000"),
            Rect(id="b", at=(10, 0), size=(20, 20), fill="#0000ff80"),
        ],
        size=(40, 20),
        background="#00ff00",
    )
    image = render_image(scene)
    assert [image.pixelColor(x, 10).name() for x in (5, 35)] == ["#ff0000", "#00ff00"]
    assert image.pixelColor(15, 10).getRgb() == pytest.approx((127, 0, 128, 255), abs=2)
    big = render_image(scene, 2.5)
    assert (big.width(), big.height()) == (100, 50)
    with pytest.raises(ChalcedonError, match="can't be made"):
        render_image(scene, 1e6)


def test_a_faint_group_fades_as_one_picture():
    """Where two opaque shapes of a half clear group overlap, the lower one must not shine through."""
    group = Group(opacity=0.5, children=[Rect(size=(20, 20), fill="#ff0000"), Rect(size=(20, 20), fill="#0000ff")])
    image = render_image(Scene([group], size=(20, 20), background="#ffffff"))
    assert image.pixelColor(10, 10).getRgb() == pytest.approx((127, 127, 255, 255), abs=2)
    shape = Circle(at=(10, 10), radius=6, fill="#ff0000", stroke="#0000ff", stroke_width=8, opacity=0.5)
    image = render_image(Scene([shape], size=(20, 20), background="#ffffff"))
    assert image.pixelColor(14, 10).getRgb() == pytest.approx((127, 127, 255, 255), abs=2)


def test_the_picture_of_a_group_is_as_large_as_what_is_painted_in_it(monkeypatch):
    """However large the page is, and wherever hidden shapes are."""
    sheets = []
    make = job.Sheet
    monkeypatch.setattr(job, "Sheet", lambda area: sheets.append(area) or make(area))
    far = Rect(at=(200, -40_000), size=(9, 9), visible=False)
    faint = Group(Rect(at=(40, 30), size=(20, 10)), opacity=0.5)
    casting = Group(Rect(at=(200, 100), size=(20, 10)), far, shadow=(4, 50_000, 6, "#000"))
    beyond = Group(Rect(at=(-50, -50), size=(9, 9)), opacity=0.5)
    render_image(Scene([faint, casting, beyond], size=(2000, 1000)))
    faint, casting, *rest = sheets
    assert faint.contains(QRect(40, 30, 20, 10)) and QRect(36, 26, 28, 18).contains(faint)
    assert casting.contains(QRect(200, 100, 20, 10)) and QRect(160, 60, 100, 1000).contains(casting)
    assert all(area.width() * area.height() <= 1 for area in rest)


def difference(a, b):
    """The largest difference of any channel of any pixel."""
    rows = [np.frombuffer(i.constBits(), np.uint8).astype(int) for i in (a, b)]
    return int(np.abs(rows[0] - rows[1]).max())


@settings(max_examples=25)
@given(st.lists(leaves, min_size=1, max_size=3), st.floats(-180, 180), st.floats(0.3, 2), st.floats(-0.5, 0.5))
def test_a_turned_and_skewed_view_shows_what_shapes_turned_and_skewed_are(shapes, angle, scale, skew):
    view = Affine.translate(80, 60).after(Affine.rotate(angle)).after(Affine(scale, 0, skew, scale, 0, 0))
    pictures = []
    for own in (Affine(), view):
        copies = [s.copy() for s in shapes]
        steps = [{"matrix": [own.a, own.b, own.c, own.d, own.e, own.f]}] if own is view else []
        scene = Scene([Group(children=copies, steps=steps)], size=(160, 120))
        display = DisplayList(scene)
        image = QImage(160, 120, FORMAT)
        image.fill(QColor("white"))
        PaintJob(display, [n for n in display.order if n.visible], image, Affine() if own is view else view).run()
        pictures.append(image)
    assert difference(*pictures) <= 6


@settings(max_examples=25)
@given(scenes)
def test_slices_and_repaired_parts_equal_one_pass(scene):
    scene.size = (160, 120)
    display = DisplayList(scene)
    view = Affine(0.7, 0, 0, 0.7, 60, 40)

    def blank():
        image = QImage(160, 120, FORMAT)
        image.fill(QColor("white"))
        return image

    shown = [n for n in display.order if n.visible]
    whole, sliced, repaired = blank(), blank(), blank()
    PaintJob(display, shown, whole, view).run()
    job = PaintJob(display, shown, sliced, view)
    while not job.run(time.perf_counter() - 1):
        pass
    assert difference(sliced, whole) == 0
    PaintJob(display, shown, repaired, view).run()
    for part in (QRect(20, 10, 50, 60), QRect(80, 40, 33, 29)):
        painter = QPainter(repaired)
        painter.fillRect(part, QColor("white"))
        painter.end()
        back = view.inverse().map_box((part.left() - 1, part.top() - 1, part.right() + 2, part.bottom() + 2))
        near = [
            n
            for n in display.order
            if n.cull[0] <= back[2] and n.cull[2] >= back[0] and n.cull[1] <= back[3] and n.cull[3] >= back[1]
        ]
        PaintJob(display, near, repaired, view, part).run()
    assert difference(repaired, whole) <= 24, "Qt rounds coverage otherwise under a clip, no more"


def test_a_picture_file_is_whole_or_not_there(tmp_path):
    scene = Scene([Circle(at=(50, 50))], size=(100, 100))
    write_picture(scene, tmp_path / "a.png", Wanted(2))
    assert QImage(str(tmp_path / "a.png")).width() == 200
    for name, text in (("a.bmp", "not a kind of picture"), ("none/a.png", "no such folder")):
        with pytest.raises(ChalcedonError, match=text):
            write_picture(scene, str(tmp_path / name))
    assert [p.name for p in tmp_path.iterdir()] == ["a.png"]


def test_matrices_have_the_same_order_as_qt():
    m = Affine(1, 2, 3, 4, 5, 6)
    p = transform(m).map(7.0, 8.0)
    assert m.map(7, 8) == pytest.approx(p)


@settings(max_examples=60)
@given(scenes)
def test_nothing_is_painted_outside_the_boxes_that_are_repainted(scene):
    """Strokes, heads, shadows and all: what is seen without a background lies in the boxes of the display list."""
    scene.background = None
    display = DisplayList(scene)
    shown = [n for n in display.order if n.cull[0] <= n.cull[2]]
    page = QImage(400, 400, FORMAT)
    page.fill(0)
    PaintJob(display, shown, page, Affine.translate(200, 200)).run()
    inked = np.frombuffer(page.constBits(), np.uint8).reshape(400, 400, 4)[:, :, 3] > 0
    for node in shown:
        left, top, right, bottom = (round(min(max(v + 200, 0), 400)) for v in node.cull)
        inked[max(0, top - 2) : bottom + 2, max(0, left - 2) : right + 2] = False
    assert not inked.any(), np.argwhere(inked)[:5]
