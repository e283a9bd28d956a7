"""Presets and runs as lines: what is printed is read as the same, to the last digit."""

from hypothesis import given
from hypothesis import strategies as st

from chalcedon.scene import Rect
from chalcedon.scene.paints import Shadow
from chalcedon.source.settings import parse_settings, print_settings

lengths = st.floats(0, 1e9) | st.integers(0, 100)
offsets = st.floats(-1e9, 1e9)
colors = st.sampled_from(["#2e3d44", "red", "rgb(10 20 30 / 40%)", "hsl(20 65% 57%)", "var(--tar)"])
settings = st.fixed_dictionaries(
    {},
    optional={
        "fill": colors | st.none(),
        "stroke_width": lengths,
        "opacity": st.floats(0, 1),
        "dash": st.lists(st.floats(0.001, 1e9), max_size=4).map(tuple),
        "shadow": st.builds(Shadow, offsets, offsets, st.floats(0, 1000), colors),
        "paint_order": st.sampled_from(["fill", "stroke"]),
    },
)


@given(settings)
def test_settings_read_back_from_their_line(values):
    line = print_settings(values)
    stated = Rect(**parse_settings(line, {}))
    asked = Rect(**values)
    assert {n: stated.stated(n) for n in values} == {n: asked.stated(n) for n in values}, line
