"""A second renderer for SVG, what it is compared by, and paints and effects for random pages."""

import io

import numpy as np
import resvg_py
from hypothesis import strategies as st
from PIL import Image as Picture
from PySide6.QtGui import QImage

from chalcedon.painter import render_image
from chalcedon.scene import Gradient, Group, Shadow

BOX = st.tuples(*[st.floats(0, 1).map(lambda v: round(v, 2))] * 4)
stops = st.lists(
    st.tuples(st.floats(0, 1).map(lambda v: round(v, 2)), st.sampled_from(["#fff3", "#204060", "linen", "#b8482a80"])),
    min_size=2,
    max_size=4,
).map(lambda found: tuple(sorted(found)))
gradients = st.one_of(
    st.builds(
        lambda line, s, spread: Gradient("linear", line, s, spread),
        BOX,
        stops,
        st.sampled_from(["pad", "reflect", "repeat"]),
    ),
    st.builds(lambda line, s: Gradient("radial", (line[0], line[1], 0.3 + line[2]), s), BOX, stops),
    st.builds(lambda line, s: Gradient("linear", tuple(64 * v for v in line), s, units="scene"), BOX, stops),
)
effects = st.fixed_dictionaries(
    {
        "opacity": st.sampled_from([1, 1, 0.5]),
        "blend": st.sampled_from(["normal", "normal", "multiply", "screen"]),
        "shadow": st.sampled_from([None, None, Shadow(3, 4, 6, "#000000a0")]),
    }
)


def ours(scene):
    image = render_image(scene).convertToFormat(QImage.Format.Format_RGBA8888)
    return np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.width(), 4)[..., :3].astype(int)


def theirs(data):
    found = resvg_py.svg_to_bytes(svg_string=data.decode())
    return np.asarray(Picture.open(io.BytesIO(bytes(found))).convert("RGBA"))[..., :3].astype(int)


def far(a, b):
    """Px whose colour the other picture has nowhere within a px: edges may be smoothed otherwise."""
    out = []
    for one, other in ((a, b), (b, a)):
        wide = np.pad(other, ((1, 1), (1, 1), (0, 0)), mode="edge")
        h, w = one.shape[:2]
        near = [np.abs(one - wide[j : j + h, i : i + w]).max(-1) for j in range(3) for i in range(3)]
        out.append((np.min(near, axis=0) > 40).sum())
    return max(out)


def dress(scene, paints, more):
    """Gives shapes of a scene paints and effects, as far as there are any. Gives those that are no groups."""
    leaves = [s for s in scene.walk() if not isinstance(s, Group)]
    for shape, paint in zip(leaves, paints, strict=False):
        shape.fill = paint
    for shape, values in zip(scene.walk(), more, strict=False):
        for name, value in values.items():
            shape.assign(name, value)
    return leaves
