"""Formulas in scenes: names and spaces, order, incremental evaluation against evaluation from scratch, loops."""

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import chalcedon
from chalcedon.craft.formulachecks import check_formulas
from chalcedon.evaluate import DisplayList
from chalcedon.evaluate.moment import Moment
from chalcedon.formula import Formula
from chalcedon.formula.problem import FormulaProblem
from chalcedon.problems import ValueProblem
from chalcedon.scene import KINDS, Circle, Gradient, Group, Polyline, Rect, Scene, Step, Text
from chalcedon.scene.color import rgba
from chalcedon.scene.colorwords import mix

F = Formula


def problems(display):
    display.update()
    return {f"{c.node.shape.id or 'scene'}.{c.name}": str(c.problem) for c in display.formulas.problems}


def quay():
    """A boat in a group that is moved, turned and scaled, beside a moon."""
    return Scene(
        [
            Circle(id="moon", at=(700, 100), radius=40),
            Group(
                id="bay",
                at=(100, 300),
                steps=[Step("rotate", 30), Step("scale", 2, 2)],
                children=[Rect(id="hull", at=(10, 20), size=(80, 20))],
            ),
        ],
        size=(960, 600),
    )


def test_a_pointer_at_rest_is_the_middle_of_the_page_in_every_group_and_y_runs_as_it_runs():
    scene = quay()
    hull, moon = scene["hull"], scene["moon"]
    hull.at, moon.at = (F("pointer.x"), F("scene.center.y")), (F("pointer.x"), F("hull.top"))
    display = DisplayList(scene)
    for change in ({"size": (500, 80)}, {"y_axis": "up"}, {"size": (90, 700)}, {"y_axis": "down"}):
        for name, value in change.items():
            scene.set(scene, name, value)
        display.update()
        fresh = DisplayList(scene)
        for shape in (hull, moon):
            assert display.node(shape).values["at"] == fresh.node(shape).values["at"]


def test_formulas_stand_in_every_place_where_a_value_can():
    scene = quay()
    scene.inputs.add("tide", 0.5, low=0, high=1)
    scene.inputs.add("lit", True)
    scene.inputs.add("paint", "#336699")
    scene.inputs.add("side", "round", choices=("round", "bevel"))
    hull, moon = scene["hull"], scene["moon"]
    hull.size = (F("moon.radius * 2"), F("10 + tide * 4"))
    hull.corners = F("tide * 10")
    hull.fill = Gradient("linear", (0, 0, F("tide"), 1), ((F("tide / 2"), "red"), (1, "blue")))
    hull.stroke = F("darker(paint)")
    hull.shadow = (2, F("tide * 6"), 4, F("alpha(paint, tide)"))
    scene.palette = {"sea": F("mix(paint, 'white', tide)"), "land": "#445566"}
    moon.fill = Gradient("radial", (0.5, 0.5, F("tide")), ((F("tide / 2"), F("paint")), (1, "var(--sea)")))
    moon.stroke = F("palette.sea")
    hull.dash = (F("tide * 8"), 2)
    hull.steps = [Step("rotate", F("tide * 90"), about=(F("moon.radius"), 0))]
    hull.visible = F("lit")
    hull.join = F("side")
    moon.opacity = F("0.5 if lit else 1")
    moon.anchor = F("'left' if lit else 'right'")
    label = scene.add(Text(id="label", content=F('f"{tide:.1f} m"')))
    assert hull.size == (80, 12) and hull.corners == (5,) and hull.dash == (4, 2) and hull.join == "round"
    assert hull.fill == Gradient("linear", (0, 0, 0.5, 1), ((0.25, "red"), (1, "blue")))
    assert hull.steps == (Step("rotate", (45,), (40, 0)),) and hull.visible is True
    sea = rgba(scene.palette[0][1])
    assert sea == rgba(mix(scene.inputs["paint"], "white", 0.5)) and scene.palette[1] == ("land", "#445566")
    assert hull.shadow == (2, 3, 4, "#33669980") and moon.fill.stops == ((0.25, "#336699"), (1, "var(--sea)"))
    display = DisplayList(scene)
    node = display.node(moon)
    assert node.fill.stops == ((0.25, rgba("#336699")), (1, sea)) and node.stroke == sea
    assert hull.stroke == DisplayList(scene).node(hull).values["stroke"] != "#336699"
    assert moon.opacity == 0.5 and moon.anchor == "left" and label.content == "0.5 m"
    scene.inputs["tide"], scene.inputs["lit"] = 1, False
    assert hull.size == (80, 14) and hull.visible is False and moon.anchor == "right" and label.content == "1.0 m"
    assert problems(DisplayList(scene)) == {}
    display.update()
    assert node.fill.stops[1][1] == rgba("white") == node.stroke, "whoever names the colour follows it"
    scene.palette = {"sea": F("darker(palette.sea)")}
    assert "goes round" in problems(display)["scene.palette"]


def test_places_come_in_the_space_of_who_asks():
    scene = quay()
    bay = scene["bay"]
    follower = Circle(id="follower", at=F("moon.center"), radius=3)
    scene.add(follower, bay)
    finger = scene.add(Circle(id="finger", at=F("pointer"), radius=3), bay)
    corner = scene.add(Circle(id="corner", at=(F("hull.left"), F("hull.bottom")), radius=F("hull.width / 100")))
    display = DisplayList(scene)
    display.to(Moment(pointer=(123, 45)))
    display.update()

    def middle(shape):
        x0, y0, x1, y1 = display.node(shape).bounds()
        return (x0 + x1) / 2, (y0 + y1) / 2

    assert middle(follower) == pytest.approx(middle(scene["moon"])), "from any group it lands on the moon"
    assert middle(finger) == pytest.approx((123, 45))
    box = display.node(scene["hull"]).bounds()
    assert middle(corner) == pytest.approx((box[0], box[3]))
    assert display.node(corner).values["radius"] == pytest.approx((box[2] - box[0]) / 100)
    bay.at = (0, 0)
    display.update()
    assert middle(follower) == pytest.approx(middle(scene["moon"])), "the space moved, and it didn't"
    assert middle(finger) == pytest.approx((123, 45))
    scene.y_axis = "up"
    display.update()
    assert middle(follower) == pytest.approx(middle(scene["moon"]))
    top = scene.add(Circle(id="lid", at=(0, F("moon.top - moon.bottom"))))
    assert top.at[1] == pytest.approx(80), "the upper edge is where y is more"


def test_outlines_answer():
    scene = Scene(
        [Polyline(id="way", points=[(0, 0), (100, 0), (100, 50)]), Rect(id="pier", at=(10, 10), size=(20, 20))]
    )
    gull = scene.add(Circle(id="gull", at=F("along(way, time / 3)"), radius=2))
    asked = "{heading(way, 0.9):g} {length_of(way):g} {area_of(pier):g} {gap(gull, pier):.0f} {overlaps(gull, pier)}"
    told = scene.add(Text(id="told", content=F(f'f"{asked} {{inside(pier.center, pier)}}"')))
    display = DisplayList(scene)
    assert told.content == "90 150 400 12 False True"
    display.to(Moment(time=1))
    display.update()
    assert display.node(gull).values["at"] == pytest.approx((50, 0))
    scene["way"].points = [(0, 0), (0, 30)]
    display.update()
    assert display.node(gull).values["at"] == pytest.approx((0, 10)), "it follows the outline"


def test_only_what_depends_on_what_changed_is_worked_out():
    scene = Scene([Circle(id="moon", radius=5)])
    for i in range(50):
        scene.add(Circle(id=f"a{i}", at=(F("pointer.x"), i), radius=F("moon.radius + 1")))
    scene.add(Circle(id="clock", radius=F("time + 1")))
    scene.add(Circle(id="lid", at=(0, F("moon.top"))))
    display = DisplayList(scene)

    def counted(change):
        before = display.formulas.worked_out
        change()
        display.update()
        return display.formulas.worked_out - before

    assert counted(lambda: display.to(display.moment._replace(time=1.0))) == 1
    assert counted(lambda: display.to(display.moment._replace(pointer=(3, 4)))) == 50
    assert counted(lambda: scene.set(scene["moon"], "fill", "red")) == 0, "nothing reads its colour"
    assert counted(lambda: scene.set(scene["moon"], "radius", 6)) == 51
    assert counted(lambda: scene.set(scene["a3"], "radius", 6)) == 0
    assert counted(lambda: scene.set(scene["moon"], "at", (3, 0))) <= 1
    assert counted(lambda: scene.set(scene["moon"], "at", (3, 9))) == 1, "the lid reads its box"


def test_what_a_value_refuses_is_about_all_of_the_formula():
    scene = Scene([Circle(id="a", radius=F("2 - 5", 4)), Circle(id="b", at=(F("7"), F("'x'", 1)))])
    display = DisplayList(scene)
    found = {c.node.shape.id: c.problem for c in display.formulas.problems}
    assert (found["a"].first, found["a"].last) == (0, 5) and "2 - 5"[found["a"].first : found["a"].last] == "2 - 5"
    assert set(found) == {"a", "b"} and scene["a"].radius == 4, "the last value stays"
    for name, text, hint in (
        ("at", "7", "A point is due: write (x, y)."), ("at", "time > 1", "A point is due: write (x, y)."),
        ("at", "'x'", ""), ("radius", "a.at", "A point has .x and .y."), ("radius", "'x'", "A number belongs here."),
        ("label", "7", 'A text is put together as f"{...}", with the number in the brackets.'),
    ):  # fmt: skip
        scene["b"].at, scene["b"].radius, scene["b"].label = (1, 2), 9, "b"
        scene["b"].assign(name, F(text, scene["b"].stated(name)))
        (cell,) = [c for c in (display.update(), *display.formulas.problems)[1:] if c.node.shape.id == "b"]
        assert cell.problem.hint == hint or (not hint and "write" not in cell.problem.hint), (
            name,
            text,
            cell.problem.hint,
        )


RIGHT = {"time + 3": 3, "pointer.x / 4": 200, "7 * 2": 14, "True": 1}
WRONG = {"nope": "nothing called nope", "1 / time": "divides by zero", "'x'": "not a number", "1e10": "too large"}


@given(st.lists(st.sampled_from([*RIGHT, *WRONG, "plain"]), min_size=2, max_size=24), st.booleans())
def test_of_several_formulas_those_that_can_be_worked_out_are(texts, stage):
    """Those that can't keep their own last values, are named each, and can be put right one by one."""
    numbers = [5 if text == "plain" else F(text, 1000 + i) for i, text in enumerate(texts)]
    scene = Scene([Polyline(id="line", points=[(0, n) for n in numbers])], size=(1600, 900))
    display = DisplayList(scene)
    if stage:  # all was wrong before, or all right
        scene["line"].points = [(0, F("nope", 1000 + i)) for i in range(len(texts))]
        display.update()
        scene["line"].points = [(0, n) for n in numbers]
        display.update()
    due = [RIGHT.get(text, 5 if text == "plain" else 1000 + i) for i, text in enumerate(texts)]
    refused = [text for text in texts if text in ("'x'", "1e10")]
    if len(refused) > 8 or len(refused) == len([t for t in texts if t != "plain"]):
        return  # all of it is kept then
    assert [y for _, y in scene["line"].points] == due
    assert all(
        p.__traceback__ is p.__context__ is None
        for c in display.formulas.problems
        for p in (c.problem, *c.wrong.values())
    )
    remarks = [r for r in check_formulas(display) if r.what == "formula"]
    assert [r.sentence.split(": ")[1] for r in remarks] == [text for text in texts if text in WRONG]
    for remark, text in zip(remarks, [text for text in texts if text in WRONG], strict=True):
        assert WRONG[text] in remark.sentence
        assert remark.repairs[0].words == "put its last value there"
        remark.repairs[0].act(display)
        assert [y for _, y in scene["line"].points] == due
    kept = [n for n in numbers if isinstance(n, F) and n.text in RIGHT]
    assert [n for _, n in scene["line"].stated("points") if isinstance(n, F)] == kept


OF_EACH_TYPE = ("time * 2 + 7", "(time + 1, 2)", "'x'", "time > 1", "'red'", "a.center", "mix('red', 'blue', time)")


@pytest.mark.parametrize("kind", sorted(k for k in KINDS if k not in ("unknown", "group")))
def test_whatever_a_formula_comes_to_is_taken_or_refused_and_the_last_value_stays(kind):
    """Every property by one formula of every type, at two moments."""
    scene = Scene([KINDS[kind](id="a"), KINDS[kind](id="b")], size=(300, 200))
    display, b = DisplayList(scene), scene["b"]
    for name, prop in b.properties.items():
        for text in OF_EACH_TYPE:
            plain = b.stated(name)
            try:
                b.assign(name, F(text, plain))
            except ValueProblem:
                assert b.stated(name) == plain
                continue  # what takes no formula
            for time in (0.0, 1.5):
                display.to(Moment(time=time, frame=round(time * 60)))
                display.update()
                value = display.node(b).value(name)
                assert prop.kind.plain(prop.kind.read(value)) == value, (name, text, value)
                problem = [c.problem for c in display.formulas.problems if c.node.shape is b]
                assert not problem or value == prop.kind.plain(plain), (name, text, "its last value stays")
                assert len(display.node(b).painted_bounds()) == 4
            b.assign(name, plain)
            display.to(Moment())
            display.update()


def test_loops_are_said_in_names_and_nothing_else_stops():
    scene = Scene(
        [Circle(id="a", radius=10), Circle(id="b", at=(4, 5), radius=3), Circle(id="c", radius=F("b.radius"))]
    )
    scene["a"].radius = F("b.at.x", 10)
    scene["b"].at = (F("a.radius + 1", 4), 5)
    display = DisplayList(scene)
    said = problems(display)
    assert set(said) == {"a.radius", "b.at"} and "b.at → a.radius → b.at" in said["a.radius"]
    assert scene["a"].radius == 10 and scene["b"].at == (4, 5) and scene["c"].radius == 3, "last values stay"
    scene["b"].at = (20, 5)
    assert problems(display) == {} and scene["a"].radius == 20
    scene["a"].at = (F("self.left"), 0)
    assert "a.at → a.at" in problems(display)["a.at"]
    scene["a"].at = (F("scene.width - self.width"), 0)
    assert problems(display) == {} and scene["a"].at == (960 - 40, 0), "its width doesn't depend on where it is"


def test_what_is_missing_is_said_and_comes_back():
    scene = quay()
    scene["hull"].size = (F("moon.radius + mast.radius", 33), 5)
    display = DisplayList(scene)
    assert "nothing called mast" in problems(display)["hull.size"] and scene["hull"].size == (33, 5)
    mast = scene.add(Circle(id="mast", radius=2))
    assert problems(display) == {} and scene["hull"].size == (42, 5)
    mast.id = "pole"
    assert problems(display) == {} and scene["hull"].stated("size")[0].text == "moon.radius + pole.radius"
    scene.remove(mast)
    assert problems(display) and scene["hull"].size == (42, 5), "the last good value stays in the picture"
    scene.undo()
    assert problems(display) == {}
    for text, said in [
        ("moon", "Name what of it"),
        ("moon.raduis", "Did you mean radius?"),
        ("moon.at.z", "no z"),
        ("moon.steps", "can't be read"),
        ("palette.tar", "no tar"),
        ("i * 3", "in a repeat only"),
        ("parent.width", "goes round"),
        ("moon.fill", "not a number"),
        ("moon.at", "not a number"),
        ("'x'", "not a number"),
        ("1 / (moon.radius - 40)", "divides by zero"),
        ("1e300 * 1e300", "finite"),
        ("-5", "negative"),
    ]:
        scene["hull"].size = (F(text, 7), 5)
        found = problems(display).get("hull.size", "")
        assert said in found, (text, found)
        assert scene["hull"].size[0] == 7


def test_inputs_are_values_of_the_scene():
    scene = Scene([Circle(id="buoy", radius=F("tide * 10", 1))])
    scene.inputs.add("tide", 0.4, low=0, high=F("scene.height / 100"), unit="m", group="Water")
    assert scene["buoy"].radius == 4
    with scene.step("Slide", gesture="g"):
        scene.inputs.set("tide", 0.5, gesture="g")
    scene.inputs.set("tide", 0.6, gesture="g")
    assert scene["buoy"].radius == 6
    scene.undo()
    assert scene.inputs["tide"] == 0.4 and scene["buoy"].radius == 4
    scene.inputs.rename("tide", "swell")
    assert scene["buoy"].stated("radius").text == "swell * 10" and scene["buoy"].radius == 4
    for bad in (
        lambda: scene.inputs.add("buoy", 1),
        lambda: scene.inputs.add("time", 1),
        lambda: scene.inputs.set("swell", "x"),
        lambda: scene.inputs["ebb"],
        lambda: scene.add(Circle(id="swell")),
        lambda: scene.inputs.add("a", 1, low=3, high=2),
        lambda: scene.inputs.add("a", None),
    ):
        with pytest.raises(ValueProblem):
            bad()
    del scene.inputs["swell"]
    assert scene["buoy"].radius == 4 and problems(DisplayList(scene))


texts = st.sampled_from(
    [
        "pointer.x / 9",
        "time * 3 + 1",
        "tide * 20",
        "c0.radius + 1",
        "c1.radius + 2",
        "c2.radius / 2",
        "c0.width",
        "c1.at.x / 7",
        "abs(c2.left) / 9",
        "g.width / 8",
        "abs(g.center.x) / 5",
        "3",
    ]
)
acts = st.lists(
    st.one_of(
        st.tuples(st.just("radius"), st.integers(0, 3), texts),
        st.tuples(st.just("at"), st.integers(0, 3), texts),
        st.tuples(st.just("plain"), st.integers(0, 3), st.integers(1, 60)),
        st.tuples(st.just("moment"), st.integers(0, 300), st.integers(0, 5)),
        st.tuples(st.just("tide"), st.integers(0, 9), st.just(0)),
        st.tuples(st.just("into"), st.integers(0, 3), st.booleans()),
        st.tuples(st.just("gone"), st.integers(0, 3), st.just(0)),
        st.tuples(st.just("undo"), st.just(0), st.just(0)),
        st.tuples(st.just("turn"), st.integers(0, 90), st.just(0)),
        st.tuples(st.just("look"), st.just(0), st.just(0)),
    ),
    max_size=14,
)


def do(scene, display, what, i, value):
    shape = scene.get(f"c{i}")
    if what == "moment":
        display.to(Moment(time=value / 2, frame=value, pointer=(i, 40)))
    elif what == "tide":
        scene.inputs["tide"] = i / 10
    elif what == "undo":
        scene.undo()
    elif what == "turn":
        scene["g"].steps = [Step("rotate", i)]
    elif what == "look":
        display.update()
    elif shape is None:
        scene.add(Circle(id=f"c{i}", radius=i + 1, at=(i, 2)))
    elif what == "radius":
        shape.radius = F(value, 5)
    elif what == "at":
        shape.at = (F(value, 5), 3)
    elif what == "plain":
        shape.radius = value
    elif what == "into":
        scene.move(shape, scene["g"] if value else scene.top, 0)
    else:
        scene.remove(shape)


@settings(suppress_health_check=[HealthCheck.too_slow], max_examples=80)
@given(acts)
def test_going_on_comes_to_the_same_as_beginning_anew(steps):
    scene = Scene([*(Circle(id=f"c{i}", radius=i + 3, at=(10 * i, 5)) for i in range(3)), Group(id="g", at=(7, 8))])
    scene.inputs.add("tide", 0.5)
    scene.history.done.clear()
    display = DisplayList(scene)
    for step in steps:
        do(scene, display, *step)
    display.update()
    fresh = DisplayList(scene)
    fresh.to(display.moment)
    fresh.update()
    mine, theirs = problems(display), problems(fresh)
    assert mine.keys() == theirs.keys()
    if mine:
        return  # what can't be worked out keeps what it was, which is not what is stated
    for shape in scene.walk():
        a, b = display.node(shape), fresh.node(shape)
        assert a.values.keys() == b.values.keys()
        for name in a.values.keys() - {"steps"}:
            assert a.values[name] == pytest.approx(b.values[name]), f"{shape.id}.{name}"
        assert a.bounds() == pytest.approx(b.bounds(), abs=1e-9)
    assert all(n.cull == pytest.approx(fresh.node(n.shape).cull) for n in display.order)


def test_what_a_formula_can_not_read_is_a_mistake_in_all_of_it():
    """In a value and in a response: no part of it is wrong by itself, so all of it is shown as wrong."""
    text = "hollow.left + 5"
    scene = Scene([Group(id="hollow"), Circle(id="disc", at=(Formula(text, 5), 0))])
    (cell,) = DisplayList(scene).formulas.problems
    live = chalcedon.Live(Scene([Group(id="hollow"), Circle(id="disc")]))
    with pytest.raises(FormulaProblem) as caught:
        live.asking.work_out(text, "disc", None)
    for problem in (cell.problem, caught.value):
        assert "hollow is empty" in str(problem) and (problem.first, problem.last) == (0, len(text))


def test_before_anything_happened_the_moment_is_the_beginning_of_all():
    names = ["time", "frame", "pointer.x", "pointer.y", "pointer.down", "pointer.pressure", "pointer.inside"]
    circles = [Circle(id=f"c{i}", at=(Formula(f"1 * {name}"), 0)) for i, name in enumerate(names)]
    display = DisplayList(Scene(circles, size=(200, 160)))
    found = dict(zip(names, (display.node(c).at[0] for c in circles), strict=True))
    assert found == {
        "time": 0, "frame": 0, "pointer.x": 100, "pointer.y": 80, "pointer.down": 0, "pointer.pressure": 0,
        "pointer.inside": 0,
    }  # fmt: skip
