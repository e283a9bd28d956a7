"""What is drawn over the picture, px by px: marks about their point, tags within the canvas, rulers to scale."""

import math

import numpy as np
import pytest
from agree import pixels
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import QRectF, QSize
from PySide6.QtGui import QColor, QImage, QPainter

from chalcedon.desk.canvas.overlay import (
    RULER,
    Rulers,
    draw_anchor,
    draw_handle,
    draw_pivot,
    draw_tag,
    draw_turn,
    ruler_step,
)
from chalcedon.desk.looks.theme import theme
from chalcedon.view.place import View

SIDE = 61
GROUND = "#808080"


def drawn(draw, width=SIDE, height=SIDE):
    """What `draw` puts on a grey picture."""
    image = QImage(width, height, QImage.Format.Format_RGB32)
    image.fill(QColor(GROUND))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    draw(painter)
    painter.end()
    return pixels(image)


def box_of(image):
    """First and last row, first and last column of what isn't the ground."""
    ys, xs = np.nonzero((image != QColor(GROUND).red()).any(axis=2))
    return ys.min(), ys.max(), xs.min(), xs.max()


MARKS = {
    role: lambda p, x, y, hot, role=role: draw_handle(p, x, y, role, hot)
    for role in ("edge", "corner", "gradient", "point")
}
MARKS |= {"pivot": draw_pivot, "anchor": lambda p, x, y, hot: draw_anchor(p, x, y), "turn": draw_turn}


@pytest.mark.parametrize("name", MARKS)
def test_marks_lie_even_about_their_point(qapp, name):
    middle = SIDE / 2
    images = [drawn(lambda p, hot=hot: MARKS[name](p, middle, middle, hot)) for hot in (False, True)]
    for image in images:
        assert np.abs(image - image[:, ::-1]).max() <= 40, "left and right"
        if name != "turn":
            assert np.abs(image - image[::-1]).max() <= 40, "above and below"
            assert np.abs(image - image.transpose(1, 0, 2)).max() <= 40, "along and across"
    if name != "anchor":  # nothing is taken hold of by it
        ink = np.array(theme().color("carnelian").getRgb()[:3])
        inks = [(np.abs(image - ink).max(axis=2) < 40).sum() for image in images]
        assert inks[1] > inks[0], "one under the pointer is fuller"


@given(st.integers(-60, 260), st.integers(-60, 160), st.sampled_from(["7", "120 px", "a word or two"]))
def test_tags_stay_within_the_picture_and_where_they_are_asked_for_if_there_is_room(qapp, x, y, text):
    top, bottom, left, right = box_of(drawn(lambda p: draw_tag(p, x, y, text, QRectF(0, 0, 200, 100)), 200, 100))
    wide, high = right - left + 1, bottom - top + 1
    assert left >= 2 and top >= 2 and right < 198 and bottom < 98
    assert left == min(max(2, x), 198 - wide) or abs(left - (198 - wide)) <= 1
    assert top == min(max(2, y), 98 - high) or abs(top - (98 - high)) <= 1


@given(st.floats(0.01, 80))
def test_a_ruler_counts_in_round_steps_that_leave_room_for_numbers(zoom):
    step = ruler_step(zoom)
    lead = step / 10 ** math.floor(math.log10(step) + 1e-9)
    assert round(lead, 9) in (1, 2, 5) and step * zoom * (1 + 1e-9) >= 60
    assert step * zoom <= 60 * 2.5 * (1 + 1e-9), "the next smaller would have done"


@given(st.floats(0.2, 8), st.floats(-300, 300), st.floats(-300, 300), st.sampled_from((None, 100.0, 140.0)))
def test_rulers_have_a_stroke_at_every_step(qapp, zoom, x, y, bottom):
    view = View()
    view.zoom = zoom
    view.place(x, y)
    width, height = 400, 300
    image = drawn(lambda p: Rulers().draw(p, view, QSize(width, height), None, bottom), width, height)
    ink = np.array(theme().color("muted").getRgb()[:3])
    across = {int(i) for i in np.nonzero((image[RULER - 1] == ink).all(axis=1))[0]}
    down = {int(i) for i in np.nonzero((image[:, RULER - 1] == ink).all(axis=1))[0]}
    pace = ruler_step(zoom) * zoom
    start = view.y if bottom is None else view.y + bottom * zoom
    for found, origin, length in ((across, view.x, width), (down, start, height)):
        steps = range(math.floor((RULER - origin) / pace), math.ceil((length - origin) / pace) + 1)
        assert found == {p for i in steps if RULER <= (p := round(origin + i * pace)) < length}
