"""What comes, goes and is moved among groups, empty ones too, is painted where the scene has it."""

from hypothesis import given
from hypothesis import strategies as st

from chalcedon import Circle, Group, Scene
from chalcedon.evaluate import DisplayList

numbers = st.integers(0, 99)


@given(st.lists(st.tuples(st.sampled_from("caaagmmrcc"), numbers, numbers, numbers), min_size=1, max_size=40))
def test_leaves_are_painted_in_the_order_of_the_scene(acts):
    scene = Scene([Group(id="pier"), Circle(id="buoy"), Group(id="deck", children=[Group(id="hold")])])
    display = DisplayList(scene)
    for act, a, b, c in acts:
        groups = [scene.top, *(s for s in scene.walk() if isinstance(s, Group))]
        into = groups[a % len(groups)]
        shapes = list(scene.walk())
        shape = shapes[b % len(shapes)] if shapes else None
        if act == "c":
            display.update()
        elif act in "ag":
            scene.add(Circle(radius=3) if act == "a" else Group(), into, c % (len(into.children) + 1))
        elif act == "m" and shape is not None and into is not shape and into not in list(shape.walk()):
            scene.move(shape, into, c % (len(into.children) + (into is not shape.parent)))
        elif act == "r" and shape is not None:
            scene.remove(shape)
        if act == "c":
            assert [n.shape for n in display.order] == [s for s in scene.walk() if not isinstance(s, Group)]
    display.update()
    assert [n.shape for n in display.order] == [s for s in scene.walk() if not isinstance(s, Group)]
