"""Changes in words, as they were read through and found right: one of each property."""

from recorded import assert_as_recorded

from chalcedon.scene.compare import compare
from chalcedon.source.told import tell
from tests.each import each_change, page


def test_each_change_is_told_as_it_was_found_right():
    before, scene = page(), page()
    lines, seen = [], set()
    for (_shape, name, value), done in each_change(scene):
        if not done:
            assert compare(before, scene) == [], "nothing once it is taken back"
        elif (name, repr(value)) not in seen:
            seen.add((name, repr(value)))
            lines += [str(tell(c, scene)) for c in compare(before, scene)]
    assert_as_recorded("told", lines)
