"""A page with a shape of every kind, and for each property values that it may be changed to."""

from chalcedon import Circle, Group, Image, Line, Path, Polyline, Rect, Scene, Star, Text
from chalcedon.formula import Formula
from chalcedon.problems import ValueProblem
from chalcedon.scene import KINDS

OTHER = {
    "visible": (False,),
    "locked": (True,),
    "opacity": (0.0, 0.5),
    "blend": ("multiply",),
    "isolate": (True,),
    "shadow": ((3, 4, 5, "#00000080"),),
    "cuts": (True, False),
    "clip": ("bite", "star", ""),
    "clip_by": ("alpha", "luminance"),
    "inside": ("plate", ""),
    "pointer": ("none", "all", "box"),
    "fill": ("#123456", None, "var(--tide)", Formula("mix('red', 'blue', 0.5)", "red")),
    "stroke": ("#654321", None),
    "stroke_width": (0, 7),
    "stroke_align": ("inside", "outside"),
    "fill_on": (False,),
    "stroke_on": (False,),
    "steady": (True,),
    "dash": ((4, 2),),
    "dash_offset": (3,),
    "cap": ("round",),
    "join": ("bevel",),
    "miter_limit": (1,),
    "end_head": ("barb",),
    "mid_head": ("dot",),
    "head_size": (9,),
    "paint_order": ("stroke",),
    "at": ((31, 17), (Formula("pointer.x / 2", 0), 4)),
    "anchor": ("bottom-right", "origin"),
    "pivot": ("top-left",),
    "steps": ([{"rotate": 30}], [{"scale": (0, 1)}], [{"skew": (20, 0)}, {"translate": (5, 5)}]),
    "size": ((30, 44), 18, (0, 5)),
    "radius": (3, 0),
    "outer": (50,),
    "points": ([(0, 0), (9, 0)],),
    "closed": (True, False),
    "content": ("", "two lines\nof words"),
    "width": (30,),
    "height": (60,),
    "align": ("center",),
    "aspect_ratio": (2,),
    "corners": (7, (1, 2, 3, 4)),
    "corner_style": ("smooth",),
    "curve": (0.5,),
    "data": ("M0 0L9 9L0 20Z",),
    "direction": ("rtl",),
    "ends": ("pie",),
    "facing": (40,),
    "family": ("serif",),
    "fill_rule": ("evenodd",),
    "fit": ("cover",),
    "indent": (12,),
    "inner": (3,),
    "italic": (True,),
    "kerning": (False,),
    "letter_spacing": (4,),
    "ligatures": (False,),
    "line_height": (2,),
    "radii": ((9, 30),),
    "runs": ([(0, 2, {"weight": 700})],),
    "sides": (3,),
    "source": ("other.png",),
    "start": (77,),
    "start_head": ("bar",),
    "sweep": (123,),
    "tips": (7,),
    "to": ((3, 50),),
    "turns": (1.5,),
    "vertical": ("middle",),
    "wears": (["tar"],),
    "weight": (700,),
}

REST = ["ellipse", "arc", "annulus", "regular_polygon", "spiral"]


def page(way="down"):
    return Scene(
        [
            Rect(id="plate", at=(10, 10), size=(120, 90), corners=9, fill="#dca443", stroke="#22292e", stroke_width=3),
            Group(
                id="rig",
                at=(40, 30),
                steps=[{"rotate": 15}],
                clip="bite",
                children=[
                    Circle(id="bite", radius=30, fill="#7fa3b8"),
                    Star(id="star", at=(20, 10), outer=25, inner=9, fill="#b8482a"),
                    Circle(id="hole", at=(10, 10), radius=6, fill="black", cuts=True),
                    Group(id="deep", children=[Line(id="rope", to=(60, 20), stroke="#15213a", start_head="dot")]),
                ],
            ),
            Text(id="word", at=(30, 40), content="tide", size=20, inside="plate"),
            *(KINDS[kind](id=f"a_{kind}", at=(150, 100), fill="#7fa3b8") for kind in REST),
            Path(id="bow", at=(20, 90), data="M0 0L40 0L5 30L20 -10L40 30Z", fill="#b8482a"),
            Text(id="sign", at=(5, 90), content="(AVA office) 12\nat", width=100, height=80),
            Image(id="net", at=(150, 20), size=(40, 30), source="net.png"),
            Polyline(id="sail", points=[(0, 0), (50, 5), (20, 40)], closed=True, fill="var(--tide, teal)"),
        ],
        size=(200, 150),
        palette={"tide": "#204060"},
        presets={"tar": {"fill": "#222222", "stroke_width": 5}},
        y_axis=way,
    )


def each_change(scene):
    """Makes one change of one property after the other, and takes it back before the next: yields what was done, as
    (shape, name, value), and True before it is taken back, False after that."""
    for shape in list(scene.walk()):
        for name in sorted(shape.properties.keys() & OTHER.keys()):
            for value in OTHER[name]:
                try:
                    with scene.step("change"):
                        shape.assign(name, value)
                except ValueProblem:
                    continue  # sizes of texts and rects
                if scene.undo_name != "change":
                    continue  # it had that already
                yield (shape, name, value), True
                scene.undo()
                yield (shape, name, value), False
