"""Random acts on scenes, for tests of what keeps them."""

from hypothesis import strategies as st

from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Group
from chalcedon.scene.order import to_back, to_front


@st.composite
def walks(draw):
    """Acts on a scene: what to do, and which shapes to do it to, by chance."""
    return draw(st.lists(st.tuples(st.integers(0, 9), st.integers(0, 99), st.integers(0, 99)), max_size=12))


def act(scene, kind, i, j):
    """Does one of ten things; what doesn't fit is refused with a sentence."""
    shapes = list(scene.walk())
    if not shapes:
        scene.add(Circle())
        return
    shape, other = shapes[i % len(shapes)], shapes[j % len(shapes)]
    try:
        if kind == 0:
            scene.remove(shape)
        elif kind == 1:
            scene.add(Circle(radius=j + 1, at=(i, j)), index=0)
        elif kind == 2:
            scene.move(shape, other if isinstance(other, Group) else scene.top, i % 3)
        elif kind == 3:
            scene.rename(shape, scene.free_id(f"named_{j}"))
        elif kind == 4:
            to_front(scene, [shape])
        elif kind == 5:
            to_back(scene, [shape, other])
        elif kind == 6:
            scene.undo()
        elif kind == 7:
            scene.redo()
        elif kind == 8:
            with scene.step("Turn", gesture=("turn", j % 2)):
                shape.steps = ({"rotate": i},)
        else:
            with scene.step("Replace"):
                place, index = shape.parent, shape.parent.children.index(shape)
                scene.remove(shape)
                scene.add(Group(id=shape.id, children=[Circle(id=scene.free_id("inner"))]), place, index)
    except ChalcedonError:
        pass
