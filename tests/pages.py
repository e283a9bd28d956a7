"""Random small pages of shapes with every stroke, step and effect of groups, for comparing engines."""

from hypothesis import strategies as st
from strategies import anchor, angle, factor, flags

from chalcedon.scene import (
    Annulus,
    Arc,
    Circle,
    Ellipse,
    Group,
    Line,
    Path,
    Polyline,
    Rect,
    RegularPolygon,
    Scene,
    Star,
    Step,
)

PAGE = 64
place = st.tuples(*[st.floats(8, 56).map(lambda v: round(v, 2))] * 2)
size = st.floats(1, 26).map(lambda v: round(v, 2))
pair = st.tuples(size, size)
sweep = st.floats(-360, 360).map(lambda v: round(v, 1))
spots = st.lists(place, min_size=1, max_size=6)
data = st.tuples(
    place,
    st.lists(
        st.one_of(
            place.map(lambda p: f"L{p[0]} {p[1]}"),
            st.tuples(place, place).map(lambda p: f"Q{p[0][0]} {p[0][1]} {p[1][0]} {p[1][1]}"),
            st.tuples(place, place, place).map(lambda p: "C" + " ".join(f"{x} {y}" for x, y in p)),
        ),
        min_size=1,
        max_size=4,
    ),
    st.sampled_from(["", "Z"]),
).map(lambda v: f"M{v[0][0]} {v[0][1]} {' '.join(v[1])} {v[2]}")
KINDS = {
    Line: {"at": place, "to": st.tuples(*[st.floats(-30, 30).map(lambda v: round(v, 2))] * 2)},
    Polyline: {
        "points": spots,
        "closed": st.booleans(),
        "curve": st.sampled_from([0, 0, 1]),
        "fill_rule": st.sampled_from(["nonzero", "evenodd"]),
    },
    Rect: {"at": place, "anchor": anchor, "size": pair, "corners": st.one_of(st.just((0,)), st.tuples(size))},
    Circle: {"at": place, "radius": size},
    Ellipse: {"at": place, "radii": pair},
    Arc: {
        "at": place,
        "radii": pair,
        "start": angle,
        "sweep": sweep,
        "ends": st.sampled_from(["open", "chord", "pie"]),
    },
    Annulus: {"at": place, "inner": size, "outer": size, "start": angle, "sweep": st.one_of(st.just(360), sweep)},
    RegularPolygon: {"at": place, "sides": st.integers(3, 9), "radius": size, "facing": angle},
    Star: {"at": place, "tips": st.integers(2, 9), "outer": size, "inner": size},
    Path: {"data": data, "fill_rule": st.sampled_from(["nonzero", "evenodd"])},
}
dash = st.one_of(
    st.just(()), st.lists(st.one_of(st.just(0.0), st.floats(0.5, 20).map(lambda v: round(v, 1))), max_size=4)
)
looks = st.fixed_dictionaries(
    {
        "stroke_width": st.sampled_from([0, 2, 5, 9, 16, 30]),
        "cap": st.sampled_from(["butt", "round", "square"]),
        "join": st.sampled_from(["miter", "round", "bevel"]),
        "miter_limit": st.sampled_from([1, 1.5, 4, 20]),
        "dash": dash,
        "dash_offset": st.floats(-20, 20).map(lambda v: round(v, 1)),
        "stroke_align": st.sampled_from(["center", "center", "inside", "outside"]),
        "start_head": st.sampled_from(["none", "none", "barb", "dot"]),
        "mid_head": st.sampled_from(["none", "none", "none", "diamond", "barb"]),
        "paint_order": st.sampled_from(["fill", "fill", "stroke"]),
        "end_head": st.sampled_from(["none", "none", "triangle", "bar", "diamond"]),
        "head_size": st.sampled_from([1, 3]),
        "steady": st.booleans(),
        "pointer": st.just("painted"),
    }
)
turns = st.one_of(
    st.just(()),
    st.tuples(angle, factor, factor, st.floats(-40, 40)).map(
        lambda v: (Step("rotate", (v[0],)), Step("scale", (v[1], v[2])), Step("skew", (round(v[3], 1), 0)))
    ),
    st.tuples(flags, flags).map(lambda v: (Step("scale", v),)),
)


@st.composite
def shapes(draw):
    cls = draw(st.sampled_from(list(KINDS)))
    return cls(steps=draw(turns), **draw(st.fixed_dictionaries(KINDS[cls])), **draw(looks))


@st.composite
def pages(draw):
    """Up to three shapes of different colours, some of them in a group that is clipped or holds a cut-out."""
    made = draw(st.lists(shapes(), min_size=1, max_size=3))
    for i, shape in enumerate(made):
        shape.fill = draw(st.sampled_from([None, ("#d97b4a", "#3e7f65", "#7fa3b8")[i]]))
        shape.stroke = draw(st.sampled_from([None, ("#204060", "#602040", "#406020")[i]]))
    scene = Scene(size=(PAGE, PAGE), background="#ffffff")
    kind = draw(st.sampled_from(["plain", "plain", "clip", "mask", "cut", "isolated", "hidden"]))
    group = scene.add(Group(steps=draw(turns), pivot=(0.5, 0.5)))
    for shape in made:
        scene.add(shape, group)
    if kind in ("clip", "mask"):
        group.clip = made[0].id
        group.clip_by = "alpha" if kind == "mask" else "fill"
    elif kind == "cut":
        made[-1].cuts = True
    elif kind == "isolated":
        group.isolate = True
    elif kind == "hidden":
        made[-1].visible = False
    return scene
