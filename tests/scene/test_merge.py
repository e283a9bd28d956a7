"""Two versions of a scene compared and put together."""

import random

from hypothesis import given, settings
from hypothesis import strategies as st
from scene.test_net import wander
from strategies import scenes

from chalcedon.files.reader import read_scene
from chalcedon.files.writer import scene_bytes
from chalcedon.scene import Circle, Group, Rect, Scene
from chalcedon.scene.compare import compare
from chalcedon.scene.diff import diff
from chalcedon.scene.merge import merge
from chalcedon.source.merged import MARK, mark, said
from chalcedon.source.told import tell


def twin(scene):
    return Scene([s.copy() for s in scene.shapes], **{n: scene.stated(n) for n in scene.properties})


def wandered(scene, seed):
    out = twin(scene)
    wander(out, random.Random(seed), 12)
    return out


def states(scene):
    return {(s.id, n): s.stated(n) for s in scene.walk() for n in s._values}


@settings(max_examples=40)
@given(scenes, st.integers(0, 9999))
def test_what_one_version_alone_changed_is_taken_over(base, seed):
    changed = wandered(base, seed)
    for ours, theirs in ((base, changed), (changed, base), (changed, changed)):
        merged = twin(ours)
        assert merge(base, merged, twin(theirs)) == []
        assert diff(merged, changed) == [] and compare(merged, changed) == []
        assert len(merged.history.done) <= 1


@settings(max_examples=60)
@given(scenes, st.integers(0, 9999), st.integers(0, 9999))
def test_nothing_of_either_is_lost_in_silence(base, one, two):
    ours, theirs = wandered(base, one), wandered(base, two)
    merged = twin(ours)
    conflicts = merge(base, merged, theirs)
    told = {(c.id, c.name) for c in conflicts} | {(c.id, "") for c in conflicts}
    first, mine, other, now = (states(s) for s in (base, ours, theirs, merged))
    for key in {*mine, *other}:
        if key[0] in merged and (key[0], "") not in told:
            one_side = other if mine.get(key) == first.get(key) else mine
            assert now.get(key) == one_side.get(key) or key[0] not in ours or key[0] not in theirs, key
    for scene, rest in ((ours, theirs), (theirs, ours)):
        for shape in scene.walk():  # what is gone was taken away by one and left as it was by the other
            if shape.id not in merged:
                assert shape.id in base and shape.id not in rest
    mark(merged, conflicts)
    again = read_scene(scene_bytes(merged), "merged.chal")
    assert diff(again.scene, merged) == [] and all(said(c, merged) for c in conflicts)
    assert len({s.id for s in merged.walk()}) == len(list(merged.walk()))


def harbour():
    return Scene(
        [
            Group(id="boat", at=(40, 60), children=[Rect(id="hull", fill="#b8482a"), Rect(id="sail", fill="#f3ecdc")]),
            Circle(id="moon", at=(300, 40), radius=20, fill="#f1e4bd"),
            Circle(id="buoy", at=(200, 200), radius=8),
        ],
        background="#15213a",
    )


def test_differences_are_told_shape_by_shape():
    old, new = harbour(), harbour()
    new["moon"].radius = 24
    new.background = "#000000"
    new.remove(new["buoy"])
    new.add(Group(id="fleet", children=[Circle(id="bell")]))
    new.move(new["sail"], new["boat"], 0)
    changes = compare(old, new)
    assert [str(tell(c, new)) for c in changes] == [
        "scene: background #15213a → #000000",
        "sail: place in the order 2 → 1",
        "moon: radius 20 → 24",
        "fleet is new: a group",
        "buoy is gone: a circle",
    ]
    assert old["moon"].radius == 20 and compare(old, harbour()) == []


def test_disagreements_are_kept_told_and_noted():
    base, ours, theirs = harbour(), harbour(), harbour()
    ours["moon"].radius, theirs["moon"].radius = 30, 10
    ours["moon"].note = "full"
    theirs["moon"].fill = "#ffffff"
    theirs["hull"].fill = "#3e7f65"
    ours.remove(ours["boat"])
    ours["buoy"].at = (1, 1)
    theirs.remove(theirs["buoy"])
    ours.background, theirs.background = "#111111", "#222222"
    for scene, size in ((ours, 5), (theirs, 6)):
        scene.add(Rect(id="crate", size=(size, 4)))
    theirs.add(Circle(id="gull"), index=1)
    conflicts = merge(base, ours, theirs)
    mark(ours, conflicts)
    assert [said(c, ours) for c in conflicts] == [
        "scene: background is #111111 here and #222222 in the other version.",
        "hull: one version changed it, the other took it away; it is kept.",
        "moon: radius is 30 here and 10 in the other version.",
        "crate: size is 5, 4 here and 6, 4 in the other version.",
        "buoy: one version changed it, the other took it away; it is kept.",
    ]
    assert (ours["moon"].radius, ours["moon"].fill, ours["hull"].fill) == (30, "#ffffff", "#3e7f65")
    assert ours["moon"].note == f"full\n{MARK}radius is 30 here and 10 in the other version."
    assert "buoy" in ours and "gull" in ours and ours["buoy"].at == (1, 1)


def test_a_shape_of_another_kind_takes_its_place():
    base, ours, theirs = harbour(), harbour(), harbour()
    spot = theirs.shapes.index(theirs["moon"])
    theirs.remove(theirs["moon"])
    theirs.add(Rect(id="moon", size=(9, 9)), index=spot)
    assert merge(base, ours, theirs) == [] and ours["moon"].kind == "rect" and ours.shapes[1].id == "moon"
    mine = harbour()
    mine["moon"].radius = 5
    conflicts = merge(base, mine, theirs)
    assert [said(c, mine) for c in conflicts] == ["moon: kind is circle here and rect in the other version."]


def glowing(*values):
    made = [harbour() for _ in values]
    for scene, value in zip(made, values, strict=True):
        if value is not None:
            scene["moon"].extra["glow"] = value
    return made


def test_data_that_is_not_known_is_merged_as_any():
    for base, ours, theirs, after, told in (
        (1, 1, 2, 2, []),
        (1, 1, None, None, []),
        (None, None, 5, 5, []),
        (1, 3, 1, 3, []),
        (1, 3, 3, 3, []),
        (1, 3, 2, 3, ["moon: glow is 3 here and 2 in the other version."]),
    ):
        one, two, three = glowing(base, ours, theirs)
        conflicts = merge(one, two, three)
        assert [said(c, two) for c in conflicts] == told and two["moon"]._extra.get("glow") == after


def test_a_group_that_one_took_away_comes_back_whole_with_what_the_other_changed():
    base, ours, theirs = harbour(), harbour(), harbour()
    ours.move(ours["sail"], ours.top, 0)
    ours.remove(ours["boat"])
    theirs["boat"].at = (70, 70)
    conflicts = merge(base, ours, theirs)
    assert [said(c, ours) for c in conflicts] == ["boat: one version changed it, the other took it away; it is kept."]
    assert ours["boat"].at == (70, 70) and [s.id for s in ours["boat"].children] == ["hull"]
    assert ours["sail"].parent is ours.top
