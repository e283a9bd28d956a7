"""A small scene that has everything: strokes of every sort, what cuts, clips and hides, what can't be seen."""

from chalcedon.scene import (
    Annulus,
    Arc,
    Circle,
    Ellipse,
    Gradient,
    Group,
    Image,
    Line,
    Path,
    Polyline,
    Rect,
    Scene,
    Star,
    Text,
)
from chalcedon.scene.paints import Pattern, Picture


def harbour():
    """On 240 x 160 px, most shapes at places of whole tens."""
    return Scene(
        [
            Rect(id="sea", at=(10, 90), size=(220, 60), fill="#2c5d8f", stroke=None),
            Rect(id="quay", at=(10, 70), size=(100, 20), fill="#8a8f98", stroke="#22292e", stroke_width=4),
            Rect(id="shade", at=(20, 80), size=(80, 20), fill="#00000040", stroke=None, opacity=0.5),
            Circle(id="sun", at=(200, 30), radius=20, fill=Gradient("radial", "#ffd23f", "#f58a07")),
            Circle(id="haze", at=(200, 30), radius=30, fill=Gradient("radial", "#ffffff80", "#ffffff00"), stroke=None),
            Ellipse(id="buoy", at=(130, 120), radii=(20, 10), fill="#b8482a", stroke="#fff", stroke_width=6,
                stroke_align="inside"),
            Annulus(id="ring", at=(130, 120), inner=5, outer=8, fill="#15213a", pointer="all", stroke=None),
            Line(id="rope", at=(110, 70), to=(20, 40), stroke="#dca443", stroke_width=3, end_head="barb",
                head_size=9),
            Polyline(id="wave", points=[(10, 110), (40, 100), (70, 110), (100, 100)], stroke_width=5,
                dash=(10, 5), fill=None),
            Path(id="gull", data="M160 50 Q170 40 180 50 Q190 40 200 50", fill=None, stroke_width=2, pointer="fill"),
            Arc(id="dome", at=(60, 60), radii=(30, 30), start=180, sweep=180, ends="chord", fill="#3e7f65",
                opacity=0.9),
            Star(id="star", at=(60, 40), tips=5, outer=12, inner=5, fill="#fff", pointer="stroke",
                stroke="#000", stroke_width=2),
            Rect(id="glass", at=(50, 50), size=(20, 20), fill=None, stroke=None, pointer="box"),
            Rect(id="hollow", at=(120, 10), size=(30, 30), fill=None, stroke="#22292e"),
            Rect(id="through", at=(130, 20), size=(30, 10), fill="#a03fc8", pointer="none"),
            Group(
                id="boat",
                at=(60, 120),
                steps=[{"rotate": 10}],
                children=[
                    Rect(id="hull", at=(-25, 0), size=(50, 15), corners=(0, 0, 8, 8), fill="#53606f", locked=True),
                    Rect(id="port", at=(-5, 4), size=(6, 6), cuts=True, fill="#000"),
                    Line(id="mast", at=(0, 0), to=(0, -20), steps=[{"scale": [2, 1]}], steady=True, stroke_width=4),
                ],
            ),
            Group(
                id="window",
                clip="pane",
                children=[
                    Rect(id="curtain", at=(150, 60), size=(60, 30), fill="#d94f70"),
                    Circle(id="knob", at=(205, 75), radius=3, fill="#222"),
                    Circle(id="pane", at=(180, 75), radius=15, fill=None, stroke=None),
                ],
            ),
            Group(
                id="lamp",
                clip="beam",
                clip_by="luminance",
                children=[
                    Rect(id="light", at=(210, 60), size=(20, 30), fill="#ffe9b0"),
                    Group(
                        id="beam",
                        children=[
                            Rect(id="bright", at=(210, 60), size=(20, 15), fill="#fff", stroke=None),
                            Rect(id="dark", at=(215, 60), size=(5, 15), fill="#000", stroke=None),
                            Rect(id="clear", at=(210, 75), size=(20, 15), fill="#ffffff00", stroke=None),
                        ],
                    ),
                ],
            ),
            Text(id="sign", at=(20, 66), content="PIER 7", size=16, fill="#fff"),
            Image(id="photo", at=(160, 100), size=(30, 20), source="missing.png"),
            Rect(id="tiles", at=(195, 100), size=(30, 20), fill=Pattern("star"), stroke=Picture("missing.png"),
                stroke_width=2),
            Circle(id="ghost", at=(30, 30), radius=15, visible=False),
            Group(id="attic", visible=False, children=[Rect(id="chest", at=(80, 10), size=(20, 20))]),
            Rect(id="flat", at=(100, 40), size=(20, 20), steps=[{"scale": [1, 0]}]),
            Rect(id="far", at=(250, -40), size=(10, 10)),
            Circle(id="speck", at=(5, 5), radius=0.3, stroke=None),
            Rect(id="bare", at=(5, 20), size=(10, 10), fill=None, stroke=None),
            Rect(id="off", at=(5, 35), size=(10, 10), fill="#123456", fill_on=False, stroke=None),
            Text(id="mute", at=(5, 50), content=" "),
            Group(id="hold"),
            Rect(id="pale", at=(80, 130), size=(20, 10), fill="#2d5e90", stroke=None, locked=True),
            Line(id="thread", at=(210, 130), to=(20, 20), stroke="#2c5d8f"),
            Path(id="nowhere", data=""),
        ],
        size=(240, 160),
        background="#f4ead2",
    )  # fmt: skip
