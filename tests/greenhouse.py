"""A scene of the greenhouse with something of every sort in it, for the tests of the window."""

from chalcedon.scene import (
    Annulus,
    Arc,
    Circle,
    Gradient,
    Group,
    Line,
    Path,
    Polyline,
    Rect,
    Scene,
    Star,
    Step,
    Text,
)


def greenhouse():
    pane = Gradient("linear", (0, 0, 1, 1), [(0, "#dff0e4"), (0.6, "#9cc7ae"), (1, "#2f6b4f")])
    sun = Gradient("radial", (0.5, 0.5, 0.5), [(0, "#fff3c4"), (0.7, "#f4b860"), (1, "#f4b86000")])
    bench = Group(id="bench", at=(60, 330), clip="tray", steps=[Step("skew", (8, 0))], opacity=0.9)
    for shape in (
        Rect(id="tray", size=(260, 60), fill="var(--soil)"),
        Polyline(id="stalk", at=(40, 50), points=[(0, 0), (10, -40), (60, -30), (90, -80)], curve=1, stroke="#2f6b4f",
                 stroke_width=6, end_head="barb", dash=(12, 6)),
        Circle(id="pot", at=(200, 20), radius=16, fill="#b8482a", locked=True),
    ):  # fmt: skip
        bench.attach(shape, len(bench.children))
    return Scene(
        [
            Rect(id="pane", at=(40, 40), size=(320, 220), corners=24, fill=pane, stroke="#22292e", stroke_width=3,
                 stroke_align="outside", shadow=(6, 8, 12, "#00000060")),
            Circle(id="sun", at=(420, 110), radius=80, fill=sun, blend="screen"),
            bench,
            Star(id="flower", at=(440, 330), tips=7, outer=70, inner=34, fill="#d97b4a", steps=[Step("rotate", 20)],
                 pivot="bottom"),
            Annulus(id="dial", at=(560, 160), inner=30, outer=52, start=-120, sweep=240, fill="#7fa3b8"),
            Arc(id="draught", at=(560, 300), radii=(60, 40), start=200, sweep=200, stroke="#204060", stroke_width=5),
            Text("seed\ntrays", id="sign", at=(80, 90), size=34, fill="#22292e", weight=600, width=150, align="center"),
            Path(id="vine", at=(300, 60), data="M0 0 C40 60 -40 120 10 170 S60 200 90 150", stroke="#2f6b4f",
                      stroke_width=8, cap="round", note="cut back in March"),
            Line(id="hose", at=(20, 430), to=(560, 10), stroke="#3e7f65", stroke_width=4, visible=False),
        ],
        size=(640, 460), background="#f1ece0", palette={"soil": "#5b4636", "leaf": "#2f6b4f"},
    )  # fmt: skip
