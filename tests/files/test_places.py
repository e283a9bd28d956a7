"""Lines of values in JSON text, which messages name; and keys that stand twice."""

import json

import orjson
from hypothesis import given
from hypothesis import strategies as st

from chalcedon.files.places import Places, may_repeat

keys = st.text(st.characters(exclude_categories=["Cs"]), max_size=6)
trees = st.recursive(
    st.none(), lambda inner: st.lists(inner, max_size=4) | st.dictionaries(keys, inner, max_size=4), max_leaves=20
)


def number(tree, path=()):
    """The tree with a number of its own at every leaf, and the path to each."""
    spots = {}

    def visit(node, path):
        if isinstance(node, list):
            return [visit(v, (*path, i)) for i, v in enumerate(node)]
        if isinstance(node, dict):
            return {k: visit(v, (*path, k)) for k, v in node.items()}
        spots[path] = 100000 + len(spots)
        return spots[path]

    return visit(tree, path), spots


@given(trees, st.sampled_from([None, 0, 2]))
def test_the_line_of_every_leaf(tree, indent):
    numbered, spots = number(tree)
    text = json.dumps(numbered, indent=indent).encode() if indent is not None else orjson.dumps(numbered)
    lines = text.split(b"\n")
    places = Places(text, spots)
    for path, value in spots.items():
        assert str(value).encode() in lines[places.line(path) - 1], path
    assert not places.repeated


def test_the_nearest_line_when_there_is_no_such_place():
    text = b'{"a": 1,\n"b": [1,\n{"c": 2}]}'
    asked = [("b", 1, "c"), ("b", 1, "none"), ("none",), ("b", 7)]
    assert [Places(text, asked).line(p) for p in asked] == [3, 3, 1, 2]
    assert Places(b"", asked).line(("a",)) == 1


pairs = st.recursive(
    st.integers(0, 9) | st.sampled_from(['a":', "\\", " :"]),
    lambda inner: st.lists(inner, max_size=3) | st.lists(st.tuples(st.sampled_from('abc"\\é:'), inner), max_size=4),
    max_leaves=12,
)


@given(pairs, st.sampled_from([":", ": ", " :", "\t:\n"]), st.booleans())
def test_every_key_that_stands_twice(tree, colon, escaped):
    """Objects as lists of pairs, so that keys may repeat; the standard library's reader tells which do."""

    def write(node):
        if isinstance(node, list) and node and isinstance(node[0], tuple):
            return "{" + ",".join(json.dumps(k, ensure_ascii=escaped) + colon + write(v) for k, v in node) + "}"
        if isinstance(node, list):
            return "[" + ",\n".join(map(write, node)) + "]"
        return json.dumps(node)

    text = write(tree).encode()
    twice = []

    def note(items):
        names = [k for k, _ in items]
        twice.extend(k for i, k in enumerate(names) if k in names[:i])
        return dict(items)

    value = json.loads(text, object_pairs_hook=note)
    assert sorted(str(r.place[-1]) for r in Places(text).repeated) == sorted(twice)
    assert may_repeat(text, value) or not twice
