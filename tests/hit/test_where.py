"""Where is it? Every reason is named, and what is offered brings the shape out."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chalcedon.evaluate import DisplayList
from chalcedon.files.check import check_scene
from chalcedon.hit.tester import HitTester
from chalcedon.hit.where import first_cause, where
from chalcedon.scene import Circle, Gradient, Group, Line, Polyline, Rect, Scene, Text


def cover(**values):
    return Rect(id="sea", at=(0, 0), size=(400, 300), fill="#15213a", **values)


CASES = {
    "hidden": [Circle(id="it", at=(50, 50), visible=False)],
    "hidden with its group": [Group(id="rig", visible=False, children=[Circle(id="it", at=(50, 50))])],
    "clear": [Circle(id="it", at=(50, 50), opacity=0)],
    "clear with its group": [Group(id="rig", opacity=0, children=[Circle(id="it", at=(50, 50))])],
    "no paint": [Circle(id="it", at=(50, 50), fill=None)],
    "clear paint": [Circle(id="it", at=(50, 50), fill="#ff000000")],
    "no stroke": [Line(id="it", at=(50, 50), to=(50, 50), stroke=None)],
    "scaled to nothing": [Circle(id="it", at=(50, 50), steps=[{"scale": [0, 1]}])],
    "group scaled to nothing": [Group(id="rig", steps=[{"scale": [1, 0]}], children=[Circle(id="it", at=(50, 50))])],
    "too small": [Circle(id="it", at=(50, 50), radius=0.2)],
    "right of the page": [Circle(id="it", at=(900, 50), radius=10)],
    "above and left": [Circle(id="it", at=(-100, -90), radius=10)],
    "in a group off the page": [Group(at=(0, 700), steps=[{"rotate": 10}], children=[Rect(id="it", size=(9, 9))])],
    "covered": [Circle(id="it", at=(50, 50)), cover()],
    "covered in a group": [Group(children=[Circle(id="it", at=(50, 50)), Rect(size=(5, 5))]), cover()],
    "covered by two": [
        Circle(id="it", at=(50, 50), radius=40),
        Rect(id="left", size=(52, 200), fill="#000"),
        Group(children=[Rect(id="right", at=(50, 0), size=(90, 200), fill="#000")]),
    ],
    "cut out": [Group(children=[Circle(id="it", at=(50, 50)), Rect(id="hole", size=(400, 300), cuts=True)])],
    "clipped": [
        Group(
            id="rig",
            clip="mask",
            children=[Circle(id="it", at=(50, 50)), Rect(id="mask", at=(300, 200), size=(20, 20), fill=None)],
        )
    ],
    "same colour": [Circle(id="it", at=(50, 50), fill="#fffefd")],
    "same colour behind": [cover(), Circle(id="it", at=(50, 50), fill="#15213b")],
}
WHAT = {
    "hidden with its group": "hidden",
    "clear with its group": "clear",
    "clear paint": "no paint",
    "no stroke": "no paint",
    "group scaled to nothing": "scaled to nothing",
    "right of the page": "off the page",
    "above and left": "off the page",
    "in a group off the page": "off the page",
    "covered in a group": "covered",
    "covered by two": "covered",
    "same colour behind": "same colour",
}


@pytest.mark.parametrize("case", CASES)
def test_every_reason_is_named_and_every_repair_brings_it_out(case):
    for i in range(3):
        scene = Scene([s.copy() for s in CASES[case]], size=(400, 300))
        display = DisplayList(scene)
        tester = HitTester(scene, display)
        display.update()
        reasons = where(tester, scene["it"])
        assert [r.what for r in reasons] == [WHAT.get(case, case)], case
        assert reasons[0].sentence.endswith(".") and reasons[0].repairs
        if i >= len(reasons[0].repairs):
            return
        reasons[0].repairs[i].act(display)
        display.update()
        assert where(tester, scene["it"]) == [], reasons[0].repairs[i].words
        assert scene.undo()
        display.update()
        assert [r.what for r in where(tester, scene["it"])] == [WHAT.get(case, case)]


def test_the_words():
    def said(shapes, id="it", background="#ffffff"):
        scene = Scene(shapes, size=(400, 300), background=background)
        return [r.sentence for r in where(scene, scene[id])]

    assert said(CASES["right of the page"]) == ["it is 490 px right of the page."]
    assert said([Circle(id="it", at=(-100, -90), radius=10)]) == ["it is 90 px left of and 80 px above the page."]
    assert said([Circle(id="it", at=(50, 50)), cover()]) == ["it is covered by sea (100 %)."]
    (text,) = said([s.copy() for s in CASES["covered by two"]])
    assert text == "it is covered by left (50 %), right (50 %)."
    assert "contrast 1.0" in said([Circle(id="it", at=(50, 50), fill="#fffefd")])[0]
    dark = [Circle(id="it", at=(50, 50), fill="#0a0a0a")]  # (0.05 + 10 / 255 / 12.92) / 0.05, by WCAG's definition
    assert "contrast 1.06." in said(dark, background="#000000")[0]
    several = [Circle(id="it", at=(900, 50), visible=False, fill=None)]
    assert len(said(several)) == 3, "all of them are named"
    assert said([Group(id="it")]) == ["it holds nothing."]
    assert said([Text(id="it", content="  ")])[0] == "it says nothing."


@given(st.sampled_from([-1, 0, 1]), st.sampled_from([-1, 0, 1]), st.integers(0, 300))
def test_what_is_moved_onto_the_page_goes_to_its_nearest_edge_and_no_farther(left, up, far):
    at = tuple({-1: -20 - far, 0: 100, 1: side + 20 + far}[way] for way, side in ((left, 400), (up, 300)))
    scene = Scene([Circle(id="it", at=at, radius=20, fill="#000")], size=(400, 300))
    display = DisplayList(scene)
    display.update()
    reasons = where(HitTester(scene, display), scene["it"])
    if left == up == 0:
        assert not reasons
        return
    reasons[0].repairs[0].act(display)
    assert scene["it"].at == ({-1: 20, 0: 100, 1: 380}[left], {-1: 20, 0: 100, 1: 280}[up])


@pytest.mark.parametrize("count", [1, 2, 3, 4, 6])
def test_of_many_that_cover_it_three_are_named(count):
    wide = 120 / count
    stripes = [Rect(id=f"slat_{i}", at=(50 + i * wide, 50), size=(wide, 40), fill="#15213a") for i in range(count)]
    scene = Scene([Rect(id="it", at=(50, 50), size=(120, 40), fill="#fff"), *stripes], size=(400, 300))
    (reason,) = where(scene, scene["it"])
    assert reason.sentence.count("slat_") == min(3, count)
    assert reason.sentence.endswith(f" and {count - 3} more.") == (count > 3)


def test_what_shows_through_covers_nothing():
    for veil in (
        cover(opacity=0.9),
        cover(blend="multiply"),
        Rect(id="sea", size=(400, 300), fill="#15213aee"),
        Rect(id="sea", size=(400, 300), fill=None, stroke="#15213a", stroke_width=5),
        Group(id="veil", opacity=0.5, children=[cover()]),
    ):
        scene = Scene([Circle(id="it", at=(150, 150)), veil], size=(400, 300))
        assert where(scene, scene["it"]) == []


def test_shares_are_by_area_and_not_by_boxes():
    """The box of the triangle covers all of it, the triangle not even half."""
    triangle = Polyline(id="sail", points=[(0, 0), (100, 0), (0, 100)], closed=True, fill="#f3ecdc")
    scene = Scene([Rect(id="it", at=(50, 50), size=(50, 50), fill="#000"), triangle], size=(400, 300))
    assert where(scene, scene["it"]) == []


@given(st.floats(0, 1), st.booleans())
def test_mostly_covered_is_told_with_its_share(part, upright):
    size = (100, 400) if upright else (400, 100)
    by = (100 * part, 400) if upright else (400, 100 * part)
    scene = Scene([Rect(id="it", size=size, fill="#000"), Rect(id="sea", size=by, fill="#fff")], size=(400, 400))
    reasons = where(scene, scene["it"])
    if part < 0.7:
        assert not reasons
    elif part > 0.8:
        assert reasons[0].what == "covered" and reasons[0].share == pytest.approx(part, abs=0.07)


def test_the_first_cause_needs_no_other_shape():
    scene = Scene([s.copy() for s in CASES["no paint"]] + [Rect(id="fine")])
    display = DisplayList(scene)
    assert first_cause(display, display.node(scene["it"])) == "no paint"
    assert first_cause(display, display.node(scene["fine"])) == ""
    told = {}
    for case, shapes in CASES.items():
        scene = Scene([s.copy() for s in shapes], size=(400, 300))
        display = DisplayList(scene)
        told[case] = first_cause(display, display.node(scene["it"]))
    alone = (
        "covered",
        "covered in a group",
        "covered by two",
        "cut out",
        "clipped",
        "same colour",
        "same colour behind",
    )
    assert [case for case, words in told.items() if not words] == list(alone), "those need a look at others"


def test_only_what_shows_behind_counts_for_the_contrast():
    """Below an opaque shape there may be anything; below another only plain colours have one that can be said."""
    sky = Gradient("linear", (0, 0, 400, 0), ((0, "red"), (1, "blue")), "pad", "scene")
    for over, told in ((1.0, True), (0.5, False)):
        scene = Scene(
            [
                Rect(id="sky", size=(400, 300), fill=sky),
                Rect(id="wall", size=(400, 300), fill="#dca443", opacity=over),
                Circle(id="it", at=(50, 50), fill="#dca544"),
            ],
            size=(400, 300),
        )
        assert [r.what for r in where(scene, scene["it"])] == (["same colour"] if told else [])


def test_what_can_not_be_told_from_what_lies_behind_is_remarked_however_much_of_it_shows():
    scene = Scene([Circle(id="it", at=(50, 50), fill="#fffefd"), Circle(id="lamp", fill="red")], size=(400, 300))
    found = [(r.shape.id, r.what) for r in check_scene(DisplayList(scene))]
    assert ("it", "same colour") in found and "lamp" not in [id for id, _ in found]
