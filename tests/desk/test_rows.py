"""The rows of the ledger: what comes and goes one by one leaves them as if they had been made anew."""

from hypothesis import given, settings
from hypothesis import strategies as st

from chalcedon.desk.ledger.rows import Rows, drop_at
from chalcedon.evaluate import DisplayList
from chalcedon.scene import Circle, Group, Scene

acts = st.tuples(st.integers(0, 4), st.integers(0, 30), st.integers(0, 30), st.booleans())


def change(scene, what, a, b):
    shapes = list(scene.walk())
    groups = [scene.top, *(s for s in shapes if isinstance(s, Group))]
    group = groups[a % len(groups)]
    index = b % (len(group.children) + 1)
    if what == 0:
        scene.add(Circle(), group, index)
    elif what == 1:
        scene.add(Group(children=[Circle(), Group(children=[Circle()]), Circle()]), group, index)
    elif what == 2 and shapes:
        scene.remove(shapes[a % len(shapes)])
    else:
        scene.undo() if what == 3 else scene.redo()


@settings(max_examples=100)
@given(st.lists(acts, max_size=15), st.booleans(), st.integers(0, 7))
def test_rows_that_follow_are_those_made_anew(todo, front_first, fold):
    inner = [Group(id=f"g{i}", children=[Circle(), Circle()]) for i in range(3)]
    scene = Scene([Circle(), *inner, Group(id="outer", children=[Group(id="deep", children=[Circle()]), Circle()])])
    display = DisplayList(scene)
    folded = {scene[f"g{i}"] for i in range(3) if fold >> i & 1}
    rows = Rows(scene, folded, front_first)
    for what, a, b, now in todo:
        change(scene, what, a, b)
        changes = display.update() if now else None
        if changes is None or not changes.order:
            continue
        if changes.moved or not rows.follow([n.shape for n in changes.came], [n.shape for n in changes.left]):
            rows = Rows(scene, folded, front_first)
        fresh = Rows(scene, folded, front_first)
        assert list(rows) == list(fresh) and len(rows) == len(fresh)
        assert [rows.index_of(s) for s in scene.walk()] == [fresh.index_of(s) for s in scene.walk()]


@given(st.lists(st.tuples(st.sampled_from((0, 0, 1)), st.integers(0, 30), st.integers(0, 30)), max_size=6),
       st.integers(0, 99), st.integers(0, 5), st.booleans(), st.integers(0, 7))  # fmt: skip
def test_what_is_dropped_in_a_gap_has_its_row_there(made, gap, depth, front_first, fold):
    scene = Scene()
    for what, a, b in made:
        change(scene, what, a, b)
    groups = [s for s in scene.walk() if isinstance(s, Group)]
    folded = {g for i, g in enumerate(groups) if fold >> i & 1}
    rows = Rows(scene, folded, front_first)
    gap %= len(rows) + 1
    around = [rows[i].depth for i in (gap - 1, gap) if 0 <= i < len(rows)]
    drop = drop_at(scene, rows, gap, depth, front_first, folded)
    new = scene.add(Circle(), drop.group, drop.index)
    after = Rows(scene, folded, front_first)
    assert after.index_of(new) == gap and after[gap].depth == drop.depth and (drop.line == gap or not around)
    above = rows[gap - 1] if gap else None
    deepest = above.depth + (isinstance(above.shape, Group) and above.shape not in folded) if above else 0
    least = rows[gap].depth if gap < len(rows) else 0
    assert drop.depth == min(max(depth, least), deepest), "as deep as asked for where that can be"
