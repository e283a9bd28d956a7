"""Each property of each shape changed alone, and taken back: what is evaluated then is what is evaluated afresh."""

import pytest

from chalcedon.evaluate import DisplayList
from chalcedon.scene import KINDS
from tests.each import each_change, page


def told(display):
    """All that painting and hitting ask a node for."""
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
                (n.bounds(), n.painted_bounds()),
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
            fresh = told(DisplayList(scene))
            assert told(display) == fresh, what
            if fresh != before:
                tried.add(what[1])
        else:
            assert told(display) == before, what
    known = {p.name for kind in KINDS.values() for p in kind.properties.values() if p.affects != "nothing"}
    known -= {"aspect_ratio"}  # what changes either side keeps it
    assert tried == known, f"{sorted(tried ^ known)}: whatever is declared to change the picture, and no more"
