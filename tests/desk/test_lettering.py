"""Words and chips of the lists: what is drawn often comes from what is ready, and looks no different for it."""

from itertools import product

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtGui import QColor, QFontMetricsF, QImage, QPainter

from chalcedon.desk.ledger.parts import show
from chalcedon.desk.looks.chips import draw_chip
from chalcedon.desk.looks.lettering import OFTEN, _drawn, advance, write
from chalcedon.desk.looks.theme import font

STYLES = list(product((12, 13, 14, 15), (False, True), (False, True)))


@given(st.floats(-1e9, 1e9) | st.integers(-9999, 9999).map(float), st.sampled_from(STYLES))
def test_numbers_are_as_wide_as_their_letters(qapp, value, style):
    text = show(value)
    assert advance(text, *style) == QFontMetricsF(font(*style)).horizontalAdvance(text)


def drawn(draw, ratio=1.0):
    image = QImage(round(120 * ratio), round(40 * ratio), QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(ratio)
    image.fill(QColor("#F7F5F1"))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    draw(painter)
    painter.end()
    return image


@pytest.mark.parametrize("text", ("1234.567", "harbour", "a very long name of a boat", "−5", "Hafenmöwe", "שלום"))
@pytest.mark.parametrize("style", ({}, {"bold": True}, {"italic": True, "size": 13}))
@pytest.mark.parametrize(("ratio", "x"), [(1.0, 10), (1.0, 7.3), (1.25, 8.6), (1.5, 10.2), (2.0, 9.7)])
def test_a_text_drawn_often_looks_the_same(qapp, text, style, ratio, x):
    def draw(painter):
        write(painter, x, 4.4, 28, text, QColor("#22292E"), room=100, **style)

    _drawn.forget()
    first = drawn(draw, ratio)
    assert first != drawn(lambda painter: None, ratio)
    assert all(drawn(draw, ratio) == first for _ in range(OFTEN + 2))


def levels(image):
    return np.array(image.constBits(), dtype=int)


@pytest.mark.parametrize("ring", (False, True))
@pytest.mark.parametrize("color", ("#8A2B1C", "#1C2B8A60"))
@pytest.mark.parametrize("ratio", (1.0, 1.25, 1.5, 2.0))
def test_a_chip_drawn_often_looks_the_same(qapp, color, ring, ratio):
    def draw(painter):
        draw_chip(painter, 10.4, 9.5, color, ring)

    first = levels(drawn(draw, ratio))
    assert np.ptp(first) > 20
    for _ in range(OFTEN + 2):  # blended by way of what is clear, its edges are a level off
        assert np.abs(levels(drawn(draw, ratio)) - first).max() <= 3
