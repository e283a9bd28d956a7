"""Where points and boxes of a scene with everything snap to, what its check-ups say, and what its steps measure."""

import itertools

from recorded import assert_as_recorded, numbers

from chalcedon.craft.checkup import check_up
from chalcedon.craft.nearly import check_nearly
from chalcedon.craft.snap import Snapper
from chalcedon.craft.valuechecks import check_values
from chalcedon.desk.canvas.measure import measure
from chalcedon.evaluate import DisplayList
from chalcedon.files.check import check_scene
from chalcedon.scene import Circle, Group, Line, Path, Polyline, Rect, Scene, Star, Text
from tests.harbour import harbour


def told(found):
    marks = "; ".join(
        f"{m.words} at {numbers(m.spot)}" + "".join(f" [{numbers((*a, *b))}]" for a, b in m.lines) for m in found.marks
    )
    return f"{numbers((found.dx, found.dy))}{' x' * found.x}{' y' * found.y}: {marks}"


def test_where_things_snap_to():
    scene = harbour()
    display = DisplayList(scene)
    ways = {
        "all": Snapper(display),
        "guides": Snapper(display, guides=((50, 150.5), (80,))),
        "grid": Snapper(display, [display.node(scene["sea"]), display.node(scene["boat"])], grid=25),
        "in view": Snapper(display, view=(100, 0, 240, 60)),
    }
    lines = []
    for name, snapper in ways.items():
        for x, y in itertools.product((3, 61, 122, 184, 229), (2, 29, 68, 101, 141)):
            lines.append(f"{name}, {x} {y}: {told(snapper.point(x, y, 5))}")
        for x, y in ((141, 42), (33, 78), (219, 118), (150, 147)):
            lines.append(f"{name}, {x} {y} from 110 70: {told(snapper.point(x, y, 4, (110, 70)))}")
            lines.append(f"{name}, {x} {y} round 110 70: {told(snapper.point(x, y, 4, (110, 70), True))}")
        for box in ((12, 12, 33, 41), (118, 52, 139, 63), (60, 93, 80, 99), (201, -8, 221, 6), (-30, 88, -10, 151)):
            lines.append(f"{name}, box {numbers(box)}: {told(snapper.box(box, 4))}")
    row = Scene([Rect(id=f"post{i}", at=(x, 20), size=(10, 10)) for i, x in enumerate((20, 50, 100))], size=(200, 60))
    snapper = Snapper(DisplayList(row))
    for x in (-11, 72, 79, 128, 152, 74.5):
        lines.append(
            f"beside posts, {x}: {told(snapper.box((x, 18, x + 12, 34), 3))} | {told(snapper.point(x, 25.5, 3))}"
        )
    assert_as_recorded("snapped", lines, 0.011)


def faults():
    """Everything that a check-up has something to say of."""
    return Scene(
        [
            Polyline(id="touch", points=[(0, 0), (40, 0), (40, 30), (0, 0)], stroke_width=3),
            Polyline(id="gap", points=[(50, 0), (90, 0), (90, 30), (50.5, 0.5)]),
            Polyline(id="again", points=[(100, 0), (140, 0), (140, 30), (100, 0)], closed=True),
            Polyline(id="twice", points=[(150, 0), (150, 0), (190, 0), (190, 30), (190, 30)]),
            Polyline(id="one", points=[(5, 5)]),
            Path(id="lone", data="M0 50 L40 50 L40 80 Z M10 10"),
            Path(id="parts", data="M50 50 L90 50 M90.3 50 L90 80"),
            Path(id="pent", data="M120 50 L135 90 L100 65 L140 65 L105 90 Z", fill="#666"),
            Path(id="thin", data="M150 50 L190 50 L170 50", fill="#666"),
            Path(id="bad", data="M0 0 L10 10 X"),
            Line(id="flat", at=(0, 100), to=(0, 0)),
            Rect(id="none", at=(50, 100), size=(20, 20), fill="#123456", stroke="#123456", stroke_width=2),
            Rect(id="wide", at=(80, 100), size=(20, 20), stroke="#000", stroke_width=0),
            Circle(id="dash", at=(120, 110), radius=10, stroke="#000", dash=(0, 0)),
            Star(id="spike", at=(160, 110), tips=9, outer=20, inner=1, stroke="#000", stroke_width=6, join="miter"),
            Polyline(id="inner", points=[(0, 140), (40, 140)], stroke="#000", stroke_width=6, stroke_align="inside"),
            Polyline(id="sharp", points=[(50, 140), (90, 140), (50, 143)], stroke="#000", stroke_width=6),
            Rect(id="flush", at=(100, 140), size=(20, 20), fill="#777"),
            Rect(id="nearly", at=(100.4, 170), size=(20, 20.3), fill="#777"),
            Text(id="big", at=(150, 140), content="a longer text than fits", width=30, height=10, size=12),
            Rect(id="paint", at=(0, 170), size=(20, 20), fill="var(--unknown)"),
            Group(id="holder", clip="nobody", children=[Rect(id="inside", at=(50, 170), size=(9, 9))]),
            Circle(id="off", at=(500, 500), radius=5),
        ],
        size=(200, 200),
    )


def test_what_check_ups_say():
    lines = []
    for scene in (faults(), harbour()):
        display = DisplayList(scene)
        for name, found in {
            "outlines": check_up(display),
            "values": check_values(display),
            "nearly": check_nearly(display),
            "all": check_scene(display),
        }.items():
            lines.append(f"{name}:")
            for r in found:
                at, repairs = "; ".join(numbers(p) for p in r.spots), ", ".join(x.words for x in r.repairs)
                lines.append(f"  {r} [{r.what}, {r.name or '-'}]{' grave' * r.grave} {at} ({repairs})")
    assert_as_recorded("checkups", lines, 0.011)


def test_what_repairs_make_of_it():
    scene = faults()
    display = DisplayList(scene)
    lines = []
    for remark in check_scene(display):
        for i, repair in enumerate(remark.repairs):
            before = scene.undo_name
            repair.act(display)
            display.update()
            words = f"{remark.shape.id}: {repair.words}: {scene.undo_name}"
            left = [r for r in check_scene(display) if r.shape is remark.shape and r.what == remark.what]
            lines.append(
                f"{words}; {'said again' if left else 'gone'}{' changed nothing' * (scene.undo_name == before)}"
            )
            scene.undo()
            display.update()
            assert i < 6
    assert_as_recorded("repairs", lines)


def test_what_steps_measure():
    steps = [
        {"rotate": 30}, {"rotate": -120}, {"translate": (10, -5)}, {"scale": (2, 0.5)}, {"skew": (20, -10)},
        {"matrix": [1, 0.5, 0, 1, 3, 4]}, {"scale": (0, 1)},
    ]  # fmt: skip
    scene = Scene(
        [
            Rect(id="hull", at=(40, 30), size=(30, 20), steps=steps),
            Group(id="boat", at=(60, 60), pivot="bottom-right", steps=steps[:4], children=[Rect(size=(9, 9))]),
        ],
        size=(200, 100),
    )
    display = DisplayList(scene)
    lines = []
    for shape in scene.shapes:
        for path in itertools.product(range(len(shape.steps)), range(6)):
            found = measure(display.node(shape), "steps", path)
            if found is None:
                continue
            firm, faint = (" | ".join(numbers((*x[0], *x[-1])) for x in part) for part in (found.firm, found.faint))
            lines.append(f"{shape.id} {path}: {found.label} at {numbers(found.spot)}{' arrow' * found.arrow}")
            lines.append(f"  firm {firm}; faint {faint}")
    assert_as_recorded("steps", lines, 0.011)
