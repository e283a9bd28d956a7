"""Random shapes and scenes for property tests."""

from hypothesis import strategies as st

from chalcedon.formula import Formula
from chalcedon.geometry.pathdata import Segment, print_path
from chalcedon.scene import (
    KINDS,
    Annulus,
    Arc,
    Circle,
    Ellipse,
    Gradient,
    Group,
    Image,
    Line,
    Path,
    Picture,
    Polyline,
    Rect,
    RegularPolygon,
    Scene,
    Star,
    Step,
    Text,
)
from chalcedon.scene.paints import Pattern

coordinate = st.floats(-200, 200, allow_nan=False).map(lambda v: round(v, 2))
length = st.floats(0.5, 120).map(lambda v: round(v, 2))
point = st.tuples(coordinate, coordinate)
angle = st.floats(-180, 180).map(lambda v: round(v, 1))
factor = st.floats(0.3, 2.5).map(lambda v: round(v, 2))
color = st.sampled_from(["#d97b4a", "linen", "rgb(12 34 56 / 50%)", "hsl(20 65% 57%)", "#fff8", None])
anchor = st.one_of(
    st.sampled_from(["top-left", "top", "center", "bottom-right", "origin"]),
    st.tuples(st.floats(0, 1).map(lambda v: round(v, 2)), st.floats(0, 1).map(lambda v: round(v, 2))),
)
step = st.one_of(
    angle.map(lambda a: Step("rotate", (a,))),
    st.tuples(factor, factor).map(lambda v: Step("scale", v)),
    point.map(lambda v: Step("translate", v)),
    st.tuples(st.floats(-40, 40).map(lambda v: round(v, 1)), st.just(0)).map(lambda v: Step("skew", v)),
    st.tuples(angle, point).map(lambda v: Step("rotate", (v[0],), v[1])),
)
steps = st.lists(step, max_size=3).map(tuple)
stroke = st.fixed_dictionaries(
    {
        "stroke": st.just("#22292e"),
        "stroke_width": st.floats(0.5, 30).map(lambda v: round(v, 2)),
        "cap": st.sampled_from(["butt", "round", "square"]),
        "join": st.sampled_from(["miter", "round", "bevel"]),
        "miter_limit": st.floats(1, 10).map(lambda v: round(v, 2)),
    }
)
placed = {"at": point, "anchor": anchor, "pivot": anchor, "steps": steps}


def made(cls, **own):
    return st.tuples(st.fixed_dictionaries({**placed, **own}), stroke).map(lambda v: cls(**v[0], **v[1]))


radii = st.tuples(length, length)
rects = made(Rect, size=radii, corners=st.one_of(st.tuples(length), st.tuples(*[st.floats(0, 60)] * 4)))
circles = made(Circle, radius=length)
ellipses = made(Ellipse, radii=radii)
lines = made(Line, to=point)
polylines = made(Polyline, points=st.lists(point, min_size=2, max_size=7), closed=st.booleans())
sweep = st.floats(-360, 360).map(lambda v: round(v, 1))
arcs = made(Arc, radii=radii, start=angle, sweep=sweep, ends=st.sampled_from(["open", "chord", "pie"]))
annuli = made(Annulus, inner=length, outer=length, start=angle, sweep=sweep)
polygons = made(RegularPolygon, sides=st.integers(3, 12), radius=length, facing=angle)
spirals = made(
    KINDS["spiral"],
    turns=st.floats(-5, 5).map(lambda v: round(v, 2)),
    inner=length,
    outer=length,
    facing=angle,
)
stars = made(Star, tips=st.integers(2, 9), outer=length, inner=length, facing=angle)
smooth = made(
    Polyline,
    points=st.lists(point, min_size=2, max_size=6, unique=True),
    closed=st.booleans(),
    curve=st.sampled_from([0.5, 1]),
    fill_rule=st.sampled_from(["nonzero", "evenodd"]),
)
flags = st.sampled_from([0.0, 1.0])
segment = st.one_of(
    point.map(lambda n: Segment("L", n)),
    st.tuples(*[coordinate] * 4).map(lambda n: Segment("Q", n)),
    st.tuples(*[coordinate] * 6).map(lambda n: Segment("C", n)),
    st.tuples(length, length, angle, flags, flags, coordinate, coordinate).map(lambda n: Segment("A", n)),
    st.just(Segment("Z", ())),
    point.map(lambda n: Segment("M", n)),
)
drawn = st.lists(segment, min_size=1, max_size=6).filter(lambda many: any(s.letter in "LQCA" for s in many))
path_data = st.tuples(point, drawn).map(lambda v: print_path([Segment("M", v[0]), *v[1]]))
paths = made(Path, data=path_data, fill_rule=st.sampled_from(["nonzero", "evenodd"]))
pills = made(Rect, size=radii, corners=st.tuples(length), corner_style=st.just("smooth"))
leaves = st.one_of(
    rects, circles, ellipses, lines, polylines, arcs, annuli, polygons, stars, spirals, smooth, paths, pills
)
said_of_words = st.fixed_dictionaries(
    {},
    optional={
        "weight": st.sampled_from([300, 700]),
        "size": st.sampled_from([8, 30]),
        "italic": st.booleans(),
        "fill": st.sampled_from(["red", "var(--tide)", None]),
    },
).filter(bool)
text_runs = st.lists(
    st.tuples(st.integers(0, 8), st.integers(9, 14), said_of_words).map(lambda v: (v[0], v[1], v[2])), max_size=3
)
texts = made(
    Text,
    content=st.text(alphabet="Lamp afi שלום\n12", max_size=12),
    size=st.floats(4, 60).map(lambda v: round(v, 1)),
    width=st.sampled_from([0, 40, 90]),
    align=st.sampled_from(["left", "center", "right", "justify"]),
    indent=st.sampled_from([0, 0, 12]),
    runs=st.one_of(st.just([]), text_runs),
)
images = st.tuples(point, radii, st.sampled_from(["", "net.png", "data:image/png;base64,AAAA"])).map(
    lambda v: Image(at=v[0], size=v[1], source=v[2])
)
stops = st.lists(
    st.tuples(
        st.floats(0, 1), st.sampled_from(["#d97b4a", "var(--tide)", "#fff8", Formula("alpha('red', time)", "red")])
    ),
    min_size=1,
    max_size=4,
)
gradient = st.one_of(
    st.tuples(st.just("linear"), st.tuples(*[coordinate] * 4), stops),
    st.tuples(st.just("radial"), st.tuples(coordinate, coordinate, length), stops),
).map(lambda v: Gradient(v[0], v[1], tuple(sorted(v[2], key=lambda s: s[0])), "reflect", "scene"))
patterns = st.tuples(st.sampled_from(["shape", "a", "b_1"]), st.sampled_from([(), (Step("rotate", 30),)])).map(
    lambda v: Pattern(*v)
)
paint = st.one_of(color, gradient, st.just("var(--tide, teal)"), st.just(Picture("net.png", "tile")), patterns)


MORE = (
    ("label", st.text(max_size=8)),
    ("note", st.text(max_size=8)),
    ("opacity", st.floats(0, 1)),
    ("visible", st.booleans()),
    ("locked", st.booleans()),
    ("pointer", st.sampled_from(["painted", "fill", "stroke", "all", "box", "none"])),
    ("blend", st.sampled_from(["multiply", "hue", "screen"])),
    (
        "shadow",
        st.tuples(coordinate, coordinate, length, st.sampled_from(["#00000080", Formula("hsl(90, 1, 0.5)", "teal")])),
    ),
    ("cuts", st.booleans()),
    ("dash", st.lists(length, max_size=4)),
    ("dash_offset", coordinate),
    ("stroke_align", st.sampled_from(["center", "inside", "outside"])),
    ("start_head", st.sampled_from(["none", "barb", "dot"])),
    ("clip_by", st.sampled_from(["fill", "alpha", "luminance"])),
    ("mid_head", st.sampled_from(["none", "dot", "barb"])),
    ("paint_order", st.sampled_from(["fill", "stroke"])),
    ("end_head", st.sampled_from(["none", "triangle", "bar", "diamond"])),
    ("head_size", st.floats(0.5, 9)),
    ("steady", st.booleans()),
    ("fill_on", st.booleans()),
    ("stroke_on", st.booleans()),
    ("wears", st.lists(st.sampled_from(["brass", "tar", "caption"]), max_size=3, unique=True)),
)
whatever = st.one_of(leaves, texts, images)
at_formula = st.tuples(coordinate.map(lambda v: Formula("pointer.x - 60", v)), st.floats(-1e9, 1e9))
unknown = st.integers(-(2**53), 2**53).map(lambda v: {"radius": v, "soft": [None, True, "x"]})
some_of = st.lists(st.sampled_from(MORE), max_size=6, unique_by=lambda row: row[0])


@st.composite
def decorated(draw):
    """A shape with any of the properties that don't change its outline, formulas and unknown ones included."""
    shape = draw(whatever)
    if not isinstance(shape, Image):
        shape.fill, shape.stroke = draw(paint), draw(paint)
    for name, values in draw(some_of):
        if name in shape.properties:
            shape.assign(name, draw(values))
    if draw(st.booleans()):
        shape.at = draw(at_formula)
    if draw(st.booleans()):
        shape.extra["glow"] = draw(unknown)
    return shape


def groups(children):
    return st.tuples(st.lists(children, max_size=4), point, steps, anchor).map(
        lambda v: Group(children=v[0], at=v[1], steps=v[2], anchor=v[3])
    )


trees = st.recursive(decorated(), groups, max_leaves=12)
ways = st.sampled_from(["down", "down", "up"])
scenes = st.tuples(st.lists(trees, max_size=5), st.tuples(st.integers(1, 5000), st.floats(1, 5000)), color, ways).map(
    lambda v: Scene(v[0], size=v[1], background=v[2], y_axis=v[3])
)
