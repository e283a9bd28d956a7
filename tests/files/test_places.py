"""Lines of values in JSON text, which messages name."""

import json

import orjson
from hypothesis import given
from hypothesis import strategies as st

from chalcedon.files.places import line_of

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
    for path, value in spots.items():
        assert str(value).encode() in lines[line_of(text, path) - 1], path


def test_the_nearest_line_when_there_is_no_such_place():
    text = b'{"a": 1,\n"b": [1,\n{"c": 2}]}'
    assert line_of(text, ("b", 1, "c")) == 3 and line_of(text, ("b", 1, "none")) == 3
    assert line_of(text, ("none",)) == 1 and line_of(text, ("b", 7)) == 2 and line_of(b"", ("a",)) == 1
