"""Flattening in one batch gives what flattening one by one gives."""

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from chalcedon.geometry import PathBuilder
from chalcedon.geometry.batch import controls_of, edges_of, flatten_cubics
from chalcedon.geometry.flatten import distance_to_edges, edges, flatten

number = st.floats(-100, 100).map(lambda v: round(v, 2))


@settings(max_examples=30)
@given(st.lists(st.tuples(*[number] * 8), min_size=1, max_size=30), st.sampled_from([0.01, 0.1, 1.0]))
def test_every_point_lies_on_its_curve_and_none_is_left_far_out(rows, tolerance):
    controls = np.array(rows).reshape(-1, 4, 2)
    points, counts = flatten_cubics(controls, tolerance)
    assert counts.sum() == len(points) and len(counts) == len(controls)
    start = 0
    for curve, count in zip(controls, counts, strict=True):
        own = points[start : start + count]
        start += count
        assert np.allclose(own[0], curve[0]) and np.allclose(own[-1], curve[3])
        t = np.linspace(0, 1, 200)[:, None]
        s = 1 - t
        fine = s**3 * curve[0] + 3 * s * s * t * curve[1] + 3 * s * t * t * curve[2] + t**3 * curve[3]
        lines = [(*a, *b) for a, b in zip(own[:-1].tolist(), own[1:].tolist(), strict=True)]
        assert max(distance_to_edges(lines, *p) for p in fine.tolist()) <= tolerance + 1e-6


@settings(max_examples=20)
@given(st.integers(50, 120), st.integers(0, 10**6))
def test_the_edges_of_a_long_outline_are_those_of_the_short_way(count, seed):
    chance = np.random.default_rng(seed)
    pen = PathBuilder()
    pen.move(0, 0)
    for _ in range(count):
        kind = chance.integers(4)
        values = chance.uniform(-80, 80, 6).tolist()
        if kind == 0:
            pen.line(*values[:2])
        elif kind == 1:
            pen.quadratic(*values[:4])
        elif kind == 2:
            pen.cubic(*values)
        else:
            pen.close()
            pen.move(*values[:2])
    path = pen.path()
    many, few = edges_of(path, 0.05), edges(flatten(path, 0.05))
    few = [e for e in few if e[:2] != e[2:]]  # a lone move is a dot there
    assert all(distance_to_edges(few, x, y) < 0.12 for x, y, *_ in many[:: max(1, len(many) // 50)])
    assert all(distance_to_edges(many, x, y) < 0.12 for x, y, *_ in few[:: max(1, len(few) // 50)])
    assert len(controls_of(path)) <= 2 * count + 1
