"""Where a view shows things, by the definitions of zooming about a point and of fitting a box."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chalcedon.view.place import LEAST, MOST, STEPS, View

number = st.floats(-2000, 2000)
ratios = st.sampled_from((1.0, 1.25, 2.0, 3.0))
boxes = st.tuples(number, number, st.floats(0.5, 1500), st.floats(0.5, 1500)).map(
    lambda b: (b[0], b[1], b[0] + b[2], b[1] + b[3])
)


def view(ratio, zoom=1.0, x=0.0, y=0.0):
    made = View()
    made.ratio, made.zoom = ratio, zoom
    made.place(x, y)
    return made


@given(ratios, st.floats(0.02, 64), number, number, number, number)
def test_the_two_ways_are_each_other_s_inverse_and_whole_device_px(ratio, zoom, x, y, a, b):
    v = view(ratio, zoom, x, y)
    assert v.to_scene(*v.to_widget(a, b)) == pytest.approx((a, b), abs=1e-6)
    assert v.matrix.map(a, b) == pytest.approx(v.to_widget(a, b))
    assert (v.x * ratio) % 1 == pytest.approx(0) and abs(v.x - x) <= 0.5 / ratio + 1e-9 >= abs(v.y - y)
    v.pan(7, -3)
    assert v.to_widget(a, b) == pytest.approx((a * zoom + v.x, b * zoom + v.y))


@given(ratios, st.floats(0.02, 64), number, number, st.floats(0.001, 200), st.floats(0, 900), st.floats(0, 900))
def test_zooming_about_a_point_keeps_what_is_there(ratio, zoom, x, y, new, px, py):
    v = view(ratio, zoom, x, y)
    under = v.to_scene(px, py)
    v.zoom_about(new, px, py)
    assert v.zoom == min(MOST, max(LEAST, new))
    assert v.to_widget(*under) == pytest.approx((px, py), abs=0.5 / ratio + 1e-6)


@given(ratios, boxes, st.tuples(st.floats(0, 90), st.floats(0, 90), st.floats(200, 1500), st.floats(200, 900)))
def test_a_box_that_is_fitted_lies_in_the_middle_and_reaches_the_margins(ratio, box, area):
    v = view(ratio)
    v.fit(box, area, 24.0)
    left, top, right, bottom = v.matrix.map_box(box)
    assert (left + right) / 2 == pytest.approx((area[0] + area[2]) / 2, abs=0.5 / ratio + 1e-6)
    assert (top + bottom) / 2 == pytest.approx((area[1] + area[3]) / 2, abs=0.5 / ratio + 1e-6)
    room = max(20.0, area[2] - area[0] - 48), max(20.0, area[3] - area[1] - 48)
    share = max((right - left) / room[0], (bottom - top) / room[1])
    assert share == pytest.approx(1) if LEAST < v.zoom < MOST else v.zoom in (LEAST, MOST)


@pytest.mark.parametrize("way", [-1, 1])
def test_steps_lead_to_the_next_zoom_of_the_list(way):
    for zoom in STEPS:
        for now in (zoom, zoom * 1.0005, zoom / 1.0005, zoom * 1.2):
            ahead = [s for s in STEPS if (s - now) * way > 0.001 * now]
            expected = (min(ahead) if way > 0 else max(ahead)) if ahead else (MOST if way > 0 else LEAST)
            assert view(1.0, now).step(way) == expected, now


def test_a_hand_is_as_exact_as_the_zoom_shows():
    assert [view(1.0, zoom).digits for zoom in (0.02, 1.49, 1.5, 11.9, 12.0, 64.0)] == [0, 0, 1, 1, 2, 2]
