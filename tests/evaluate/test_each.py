"""Each property of each shape changed alone, and taken back: what is evaluated then is what is evaluated afresh."""

import pytest

from chalcedon.craft.hold import set_anchor, set_pivot
from chalcedon.craft.stepping import bake
from chalcedon.evaluate import DisplayList
from chalcedon.formula import Formula
from chalcedon.problems import ValueProblem
from chalcedon.scene import KINDS
from tests.each import each_change, page


def told(display):
    """All that painting and hitting ask a node for, but for what is worked out from it when it is asked."""
    return (
        [
            (
                (n.shape.id, n.copy, n.world, n.box, n.cull, n.outline, n.fill, n.stroke, n.pen, n.manner),
                (
                    n.even_odd,
                    n.opacity,
                    n.blend,
                    n.cuts,
                    n.shades,
                    n.picture,
                    n.letters,
                    n.visible,
                    n.locked,
                    n.pointer,
                ),
                n.bounds(),
            )
            for n in display.order
        ],
        [(a.first, a.last, a.group.shape.id, a.group.opacity, a.group.mask) for a in display.layers],
        [(n.shape.id, *r) for n, *r in display.cutters],
    )


@pytest.mark.parametrize("way", ["down", "up"])
def test_a_change_and_its_undo_come_to_what_is_fresh(way):
    scene = page(way)
    display = DisplayList(scene)
    before, tried = told(display), set()
    for what, done in each_change(scene):
        display.update()
        if done:
            other = DisplayList(scene)
            fresh = told(other)
            assert told(display) == fresh, what
            mine, theirs = ([n.painted_bounds() for n in d.nodes(what[0])] for d in (display, other))
            assert mine == theirs, what
            other.detach()  # else each edit is told to all of them
            if fresh != before:
                tried.add(what[1])
        else:
            assert told(display) == before, what
    known = {p.name for kind in KINDS.values() for p in kind.properties.values() if p.affects != "nothing"}
    known -= {"aspect_ratio"}  # what changes either side keeps it
    found = tried ^ known
    assert not found, f"{sorted(found)}: whatever is declared to change the picture, and no more"


def boxes_in(display, shape):
    return [v for leaf in display.node(shape).walk_leaves() for v in leaf.bounds()]


@pytest.mark.parametrize("way", ["down", "up"])
@pytest.mark.parametrize("at", [(31, 17), (Formula("time * 3 + 40", 40), 17)])
def test_another_anchor_or_pivot_and_baked_steps_leave_every_kind_where_it_is(way, at):
    scene = page(way)
    display = DisplayList(scene)
    for shape in list(scene.walk()):
        if shape.id == "word":  # its place is that of the shape that it is inside
            continue
        for anchor in ("origin", "bottom-right", (0.3, 0.6)):
            with scene.step("begin"):
                shape.at, shape.steps, shape.anchor = at, [{"rotate": 90}, {"scale": 2}], anchor
            display.update()
            before = boxes_in(display, shape)
            set_anchor(display, shape, "top")
            display.update()
            assert boxes_in(display, shape) == pytest.approx(before, abs=0.02), shape
            set_pivot(display, shape, "bottom-left")
            display.update()
            assert boxes_in(display, shape) == pytest.approx(before, abs=0.02), shape
            try:
                bake(display, shape)
            except ValueProblem:
                pass  # what it can't be without its steps
            display.update()
            assert boxes_in(display, shape) == pytest.approx(before, abs=0.02), shape
            assert isinstance(shape.stated("at")[0], Formula) == isinstance(at[0], Formula), "and follows it still"
            while scene.undo_name:
                scene.undo()
            display.update()
