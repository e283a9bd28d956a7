"""Many formulas that differ in their numbers alone: worked out together they come to what each comes to by itself."""

from hypothesis import given, settings
from hypothesis import strategies as st

from chalcedon.evaluate import DisplayList
from chalcedon.evaluate.columns import MANY
from chalcedon.evaluate.moment import Moment
from chalcedon.formula import Formula
from chalcedon.hit import HitIndex
from chalcedon.scene import Circle, Group, Rect, Scene, Step

numbers = st.one_of(st.integers(-30, 30), st.floats(-99, 99).map(lambda v: round(v, 3)))
leaf = st.one_of(st.just("{}"), st.sampled_from(["time", "frame", "pointer.x", "tide", "scene.width"]))


def grown(inner):
    two = st.tuples(inner, inner)
    return st.one_of(
        *(two.map(lambda v, op=op: f"({v[0]} {op} {v[1]})") for op in "+-*/"),
        two.map(lambda v: f"hypot({v[0]}, {v[1]})"),
        inner.map(lambda v: f"sin({v})"),
        inner.map(lambda v: f"-({v})"),
        two.map(lambda v: f"wave(abs({v[0]}) + 1, 0, {v[1]})"),
        two.map(lambda v: f"noise({v[0]}, {v[1]}, wavelength=30)"),
        inner.map(lambda v: f"clamp({v}, -50, 50)"),
        inner.map(lambda v: f"round({v}, 1)"),
        inner.map(lambda v: f"({v} if time > 1 else 2)"),
    )


skeletons = st.recursive(leaf, grown, max_leaves=6)


@settings(max_examples=40)
@given(skeletons, skeletons, st.data(), st.booleans())
def test_together_they_come_to_what_each_comes_to_by_itself(one, two, data, moved):
    chance = data.draw(st.randoms(use_true_random=False))
    drawn = [data.draw(numbers) for _ in range(12)]

    def text(skeleton):
        return skeleton.format(*(chance.choice(drawn) for _ in range(skeleton.count("{}"))))

    ats = [(Formula(text(one)), Formula(text(two)) if i % 3 else 7) for i in range(MANY + 20)]
    shapes = [Circle(id=f"c{i}", at=at, radius=3) for i, at in enumerate(ats)]
    scene = Scene([Group(id="g", at=(5, 6), children=shapes)] if moved else shapes)
    scene.inputs.add("tide", 0.75)
    moments = [Moment(), Moment(time=1.5, frame=90, pointer=(12, 5), inputs={"tide": -3}), Moment(time=2, frame=120)]
    together = DisplayList(scene)
    apart = DisplayList(scene)
    apart.formulas.columns.of = lambda due: ([], due)
    for moment in moments:
        for display in (together, apart):
            display.to(moment)
            display.update()
        cells = zip(together.formulas.every(), apart.formulas.every(), strict=True)
        for found, expected in cells:
            assert found.value == expected.value and str(found.problem) == str(expected.problem)
    assert [n.world for n in together.order] == [n.world for n in apart.order]
    shapes[3].at = (Formula(text(one)), 1)
    for display in (together, apart):
        display.update()
    assert [n.world for n in together.order] == [n.world for n in apart.order]


def test_formulas_alike_are_worked_out_together_until_one_is_another():
    scene = Scene([Rect(id=f"r{i}", at=(Formula(f"time * {i} + 1"), 4)) for i in range(MANY)])
    display = DisplayList(scene)
    for moment in (Moment(time=1), Moment(time=2)):
        display.to(moment)
        display.update()
        columns, others = display.formulas.columns.of(list(display.formulas.every()))
        assert [len(c.cells) for c in columns] == [MANY] and others == []
    assert scene["r5"].at == (1, 4) and display.node(scene["r5"]).values["at"] == (11, 4)
    scene["r5"].at = (3, 4)
    display.update()
    display.to(Moment(time=3))
    display.update()
    assert display.node(scene["r6"]).values["at"] == (19, 4) and display.node(scene["r5"]).values["at"] == (3, 4)


acts: list[tuple[str, object]] = [
    ("size", (9.0, 70)),
    ("visible", False),
    ("stroke_width", 12),
    ("fill", Formula("hsl(time * 40)")),
    ("rotate", None),
    ("at", (3, 4)),
    ("to", "g"),
    ("to", "h"),
    ("remove", None),
    ("shift", None),
    ("turn", None),
]
changes = st.lists(st.tuples(st.integers(0, MANY + 19), st.sampled_from(acts)), max_size=3)


@settings(max_examples=40)
@given(st.lists(changes, min_size=2, max_size=5), st.booleans())
def test_those_carried_together_stand_where_each_by_itself_would(steps, still):
    """Through edits of some and of the groups around them; half of them rest, or none."""
    shapes = [
        Rect(id=f"r{i}", at=(Formula(f"{i} + {i % 2 if still else 3} * time"), Formula(f"{i % 2} * time + 2")))
        for i in range(MANY + 20)
    ]
    turned = Group(id="h", at=(5, 6), steps=[Step("rotate", 30)], children=shapes[50:])
    scene = Scene([*shapes[:20], Group(id="g", at=(3, 1), children=shapes[20:50]), turned])
    together, apart = DisplayList(scene), DisplayList(scene)
    apart.formulas.columns.of = lambda due: ([], due)
    index = HitIndex(together)
    together.readers.append(index.follow)
    groups = False
    for number, edits in enumerate(steps):
        for i, (name, value) in edits:
            groups = groups or name in ("shift", "turn")
            _change(scene, f"r{i}", name, value)
        for time in (number, number + 0.5):
            found = {}
            for display in (together, apart):
                display.to(Moment(time=time, frame=int(time * 60)))
                found[display] = display.update()
            assert [(n.shape.id, n.local, n.world) for n in together.order] == [
                (n.shape.id, n.local, n.world) for n in apart.order
            ]
            for mine, other in zip(together.order, apart.order, strict=True):
                assert all(abs(a - b) < 1e-9 or a == b for a, b in zip(mine.cull, other.cull, strict=True))
            assert {n.shape.id for n in found[together].nodes} == {n.shape.id for n in found[apart].nodes}
            for around in ((10.0, -5.0, 60.0, 40.0), (90.0, 0.0, 91.0, 1.0)):
                near = {n.shape.id for n in apart.order if all(_meet(n.cull, around, k) for k in (0, 1))}
                assert near <= {n.shape.id for n in index.within(around)}
        if not groups:
            assert found[together].herds, "they were carried together"


def _meet(one, other, k):
    return one[k] <= other[k + 2] and other[k] <= one[k + 2]


def _change(scene, id, name, value):
    if id not in scene and name not in ("shift", "turn"):
        return
    if name == "rotate":
        scene[id].steps = [Step("rotate", 20)]
    elif name == "to":
        scene.move(scene[id], scene[value], 0)
    elif name == "remove":
        scene[id].remove()
    elif name == "shift":
        scene["g"].at = (scene["g"].at[0] + 2, 4)
    elif name == "turn":
        scene["g"].steps = [Step("rotate", 10), *scene["g"].steps]
    else:
        setattr(scene[id], name, value)
