"""What is told of a scene that has everything: what is hit where, why the rest isn't, and why a shape isn't seen."""

import itertools

import pytest
from recorded import assert_as_recorded

from chalcedon.hit.contrast import paint_at
from chalcedon.hit.index import HitIndex
from chalcedon.hit.probe import probe
from chalcedon.hit.tester import HitTester
from chalcedon.hit.where import first_cause, where
from chalcedon.scene import Circle, Group, Rect, Scene, Text
from tests.harbour import harbour


def place(x, y):
    return f"{x:g},{y:g}"


def test_what_is_hit_where_and_what_is_near():
    scene = harbour()
    tester = HitTester(scene)
    lines = []
    for y, x in itertools.product(range(5, 160, 7), range(3, 240, 9)):
        hits = tester.hit_test(x, y, cuts=True)
        if hits:
            lines.append(f"{place(x, y)}: " + ", ".join(f"{h.id} {h.part} {h.distance:.2f}" for h in hits))
            assert tester.hit_test(x, y, first=True, cuts=True)[0].id == hits[0].id
    for (x, y), radius in itertools.product([(150, 45), (15, 5), (105, 95), (60, 140), (235, 75)], (3.0, 12.0)):
        for options in ({}, {"unlocked": True}, {"only": [scene["buoy"], scene["pale"], scene["sea"]]}):
            found = tester.hit_test(x, y, radius=radius, **options)
            about = f"{place(x, y)} within {radius:g} {' '.join(options)}"
            lines.append(f"{about}: {', '.join(f'{h.id} {h.part} {place(*h.local)}' for h in found)}")
    for box in ((0, 0, 120, 100), (110, 0, 240, 90), (180, 10, 220, 50), (179, 9, 221, 51)):
        for unlocked in (False, True):
            lines.append(
                f"inside {box}{' unlocked' * unlocked}: {' '.join(s.id for s in tester.inside(box, unlocked=unlocked))}"
            )
    assert_as_recorded("hits", lines, 0.011)


def test_why_what_is_near_is_not_hit():
    lines = []
    for x, y in (
        (60, 60), (60, 45), (60, 125), (58, 127), (200, 30), (140, 25), (130, 25), (210, 75), (217, 70), (223, 83),
        (165, 75), (120, 60), (205, 75), (170, 47), (30, 30), (90, 20), (105, 40), (10, 25), (10, 40), (85, 135),
        (5, 5), (100, 100), (130, 120), (236, 100),
    ):  # fmt: skip
        lines.append(f"{x},{y}:")
        for build in (True, False):
            found = probe(harbour(), x, y, build=build)
            told = (f"{f.shape.id} {f.part or '-'} {f.distance:.2f} {f.reason}".strip() for f in found)
            lines.append(f"  {'build' if build else 'live'}: {'; '.join(told)}")
    lines.append("near: " + "; ".join(f"{f.shape.id} {f.reason}" for f in probe(harbour(), 236, 100, 8.0)))
    assert_as_recorded("misses", lines, 0.051)


def test_why_a_shape_is_not_seen():
    scene = harbour()
    sky = Rect(id="sky", at=(0, 0), size=(240, 66), fill="#87b5d9", stroke=None)
    scene.add(sky)
    tester = HitTester(scene)
    lines = []
    for shape in scene.walk():
        lines.append(f"{shape.id}: {first_cause(tester.display, tester.display.node(shape)) or 'seen'}")
        for reason in where(tester, shape):
            repairs = ", ".join(r.words for r in reason.repairs)
            by = " ".join(s.id for s in reason.by)
            lines.append(f"  {reason.what} {reason.share:.2f} [{by}]: {reason.sentence} ({repairs})")
    assert_as_recorded("where", lines, 0.011)


COLORS = "#f4ead2", "#f6ecd5", "#d9f0c8", "#fff", "#e0d6be", "#ffe080", "#00000010", "#00000040", "#22292e", "#f4ead200"


def test_how_near_two_colours_are():
    lines = []
    for behind, color, opacity in itertools.product((None, "#2c5d8f", "#2c5d8f80"), COLORS, (1.0, 0.3)):
        scene = Scene(size=(100, 100), background="#f4ead2")
        if behind:
            scene.add(Rect(id="sea", size=(100, 100), fill=behind, stroke=None))
        dot = Circle(id="dot", at=(50, 50), fill=color, stroke=None)
        scene.add(Group(opacity=opacity, children=[dot]))
        found = [r.sentence for r in where(scene, dot)] or ["seen"]
        lines.append(f"{color} at {opacity:g} on {behind}: {' '.join(found)}")
    for name, around in {
        "beside it in a group that fades": {"opacity": 0.5},
        "beside it in a group that multiplies": {"blend": "multiply"},
        "beside it in a group": {},
    }.items():
        near = [Rect(id="wall", size=(100, 100), fill="#f6ecd5"), Circle(id="dot", at=(50, 50), fill="#f4ead2")]
        scene = Scene([Group(children=[s.copy() for s in near], **around)], size=(100, 100))
        lines.append(f"{name}: {' '.join(r.sentence for r in where(scene, scene['dot'])) or 'seen'}")
        scene = Scene([Group(children=near[:1], **around), near[1]], size=(100, 100))
        lines.append(f"  behind it: {' '.join(r.sentence for r in where(scene, scene['dot'])) or 'seen'}")
    for color, page in itertools.product(COLORS, (None, "#22292e80")):
        scene = Scene([Circle(id="dot", at=(50, 50), fill=color, stroke=None)], size=(100, 100), background=page)
        lines.append(
            f"{color} on a page of {page}: {' '.join(r.sentence for r in where(scene, scene['dot'])) or 'seen'}"
        )
    assert_as_recorded("contrast", lines, 0.011)


@pytest.mark.parametrize("count", [5, 255, 256, 700])
def test_boxes_at_a_point_are_those_of_every_shape(count):
    """The quick ways of the index against the slow one, also right on edges, beyond the page and after a change."""
    shapes = [
        Rect(id=f"r{i}", at=(i % 30 * 10, i // 30 * 10), size=(10, 10 + i % 3 * 400 * (i % 50 == 0)), stroke=None)
        for i in range(count)
    ]
    far = Rect(id="far", at=(9000, -9000), size=(5, 5), stroke=None)
    scene = Scene([*shapes, far, Text(id="none", content="")], size=(300, 200))
    tester = HitTester(scene)
    index = HitIndex(tester.display)
    tester.display.readers.append(index.follow)
    order = tester.display.order

    def meeting(box):
        a, b, c, d = box
        boxes = ((n.shape.id, n.cull) for n in reversed(order))
        return [id for id, box in boxes if box[0] <= c and box[2] >= a and box[1] <= d and box[3] >= b]

    def check():
        for x, y in (
            (10, 10),
            (10, 10.01),
            (0, 0),
            (299.99, 60),
            (300, 60),
            (-5, 5),
            (9002, -8998),
            (9005, -9000),
            (55, 425),
        ):
            slow = meeting((x, y, x, y))
            assert [n.shape.id for n in index.at(x, y)] == slow
            assert [n.shape.id for n in index.within((x, y, x, y))] == slow
        for box in (
            (0, 0, 10, 10),
            (5, 5, 100, 100),
            (-1e5, -1e5, 1e5, 1e5),
            (8000, -9001, 9000, -9000),
            (400, 0, 500, 50),
        ):
            assert [n.shape.id for n in index.within(box)] == meeting(box)

    check()
    assert index.settle(0.0) in (True, False) and index.settle(10.0)
    check()
    scene["r3"].at = (295, 95)
    scene["r0"].at = (55, 41)
    tester.refresh()
    check()
    for shape in shapes:
        shape.at = (shape.at[0] + 3, shape.at[1])
    tester.refresh()
    order = tester.display.order
    check()
    scene.remove(scene["r1"])
    tester.refresh()
    order = tester.display.order
    check()
    assert paint_at(tester.display.node(scene["r2"]), 28, 5) is not None
