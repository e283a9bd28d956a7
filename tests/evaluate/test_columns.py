"""Many formulas that differ in their numbers alone: worked out together they come to what each comes to by itself."""

from hypothesis import given, settings
from hypothesis import strategies as st

from chalcedon.evaluate import DisplayList
from chalcedon.evaluate.columns import MANY
from chalcedon.evaluate.moment import Moment
from chalcedon.formula import Formula
from chalcedon.scene import Circle, Group, Rect, Scene

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
