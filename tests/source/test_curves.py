"""Curves of keyframes: what is drawn is what the formula comes to, and changing one changes no more than it says."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chalcedon.formula.program import compiled
from chalcedon.formula.types import NUMBER
from chalcedon.source.curves import TURNS, curve_of, next_easing, with_frame

numbers = st.floats(-1000, 1000).map(lambda v: round(v, 3)) | st.integers(-50, 50)
frames = st.lists(st.tuples(numbers, numbers, st.sampled_from(["", *TURNS])), min_size=2, max_size=6).map(
    lambda found: sorted(found, key=lambda f: f[0])
)


class Names:
    def kind(self, path):
        return NUMBER


def written(found):
    parts = [f"({t!r}, {v!r}" + (f", '{e}'" if e else "") + ")" for t, v, e in found]
    return f"3 + keyframes(time, {', '.join(parts)}) − 3"


def comes_to(text, time):
    return compiled(text, Names()).run([time])


@given(frames, st.floats(-1200, 1200), st.integers(0, 5), numbers, numbers)
def test_a_curve_is_what_the_formula_comes_to_and_stays_so_when_it_is_changed(found, time, index, to, value):
    curve = curve_of(written(found))
    assert curve is not None and curve.value(time) == pytest.approx(comes_to(curve.text, time), abs=1e-9)
    index %= len(found)
    for text in (with_frame(curve, index, to, value), next_easing(curve, index)):
        new = curve_of(text)
        assert new is not None and new.value(time) == pytest.approx(comes_to(text, time), abs=1e-9)
        others = [[f[:3] for i, f in enumerate(c.frames) if i != index] for c in (curve, new)]
        assert others[0] == others[1], "they stay"
    moved = curve_of(with_frame(curve, index, to, value)).frames[index]
    low = found[index - 1][0] if index else -1e9
    high = found[index + 1][0] if index + 1 < len(found) else 1e9
    assert moved.value == value and moved.time == min(max(to, low), high), "between its neighbours"


def test_what_has_no_curve_has_none():
    for text in (
        "pointer.x",
        "keyframes(time, (0, 1))",
        "keyframes(time, (0, a.x), (1, 2))",
        "keyframes(",
        "ease(tide)",
    ):
        assert curve_of(text) is None
    curve = curve_of('f"é" if lit else ease(tide, "ease-in")')
    assert [f.ease for f in curve.frames] == ["linear", "ease-in"]
    assert next_easing(curve, 1) == 'f"é" if lit else ease(tide, "ease-out")'
    assert with_frame(curve, 1, 5, 5) == curve.text, "only how it goes is written there"
