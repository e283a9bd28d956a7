"""What every kind says of itself, as it was read through and found right: its outline, handles, measures, other
descriptions, and what stretching and mapping make of it.
"""

import pytest
from recorded import assert_as_recorded

from chalcedon.craft.descriptions import describe
from chalcedon.craft.measured import along
from chalcedon.evaluate import DisplayList
from chalcedon.geometry import Affine
from chalcedon.problems import ChalcedonError
from chalcedon.scene import KINDS, OFFERED, Group, Scene
from chalcedon.source import parse_line, print_shapes
from chalcedon.source.complete import hint_at
from chalcedon.source.sentence import sentence

MAPS = {
    "turned by 90": Affine(0, 1, -1, 0, 0, 0),
    "doubled and mirrored": Affine(-2, 0, 0, 2, 0, 0),
    "stretched": Affine(2, 0, 0, 3, 0, 0),
}


def rounded(value):
    if isinstance(value, float):
        return float(f"{value:.6g}") + 0.0
    if isinstance(value, tuple | list):
        return "(" + ", ".join(str(rounded(v)) for v in value) + ")"
    if isinstance(value, dict):
        return ", ".join(f"{k} {rounded(v)}" for k, v in value.items()) or "nothing"
    return value


def tried(function, *given):
    """What comes of it: values, or the sentence that refuses."""
    try:
        found = function(*given)
    except ChalcedonError as problem:
        return f"refused: {problem}"
    return rounded(found)


def hinted(line):
    hint = hint_at(line, len(line))
    return f"{hint.title!r} {hint.help!r} {len(hint.candidates)} of {hint.candidates[:5]} from {hint.start}"


def numbers(shape):
    """The places of every number that it states."""
    for name, prop in shape.properties.items():
        value = prop.kind.plain(shape.stated(name))
        if isinstance(value, tuple) and all(isinstance(v, int | float) for v in value):
            yield from ((name, (i,)) for i in range(len(value)))
        elif isinstance(value, tuple):
            yield from ((name, (i, j)) for i, v in enumerate(value) if isinstance(v, tuple) for j in range(len(v)))
        elif isinstance(value, int | float) and not isinstance(value, bool):
            yield name, ()


def portrait(kind):
    shape = parse_line(KINDS[kind].example)
    if isinstance(shape, Group):
        shape.attach(parse_line("rect -80 -30 70 60 8 fill #7fa3b8"), 0)
    display = DisplayList(Scene([shape], size=(280, 130)))
    node = display.node(shape)
    yield f"says: {shape.says()} / {sentence(shape)}"
    yield f"written: {print_shapes([shape]).strip()}"
    if not node.group:
        segments = list(node.outline.segments())
        yield f"outline: {len(segments)} of {[v + rounded(c) for v, c in segments[:24]]}"
        yield f"length: {rounded(along(display, shape).length)}"
    box = node.raw_box()
    yield f"box: {rounded(box)}, proportion {rounded(shape.proportion())}, reach {rounded(shape.reach())}"
    for handle in shape.handles(box):
        yield f"handle {handle.role} at {rounded(handle.raw)}, tether {rounded(handle.tether)}"
        for way, held in (((7.3, -4.6), False), ((-3.2, 9.4), True)):
            change = handle.drag((handle.raw[0] + way[0], handle.raw[1] + way[1]), 1, held)
            stays = f"{rounded(change.before)} -> {rounded(change.after)}"
            yield f"    {'held' if held else 'free'}: {rounded(change.values)}; stays {stays}; {change.word!r}"
    for name, path in numbers(shape):
        gauge = shape.gauge(name, path, box)
        if gauge is not None:
            lines = [len(gauge.firm), *map(rounded, gauge.firm[0][:2]), rounded(gauge.firm[0][-1])]
            faint = [f"{len(f)} from {rounded(f[0])} to {rounded(f[-1])}" for f in gauge.faint]
            yield f"measure {name}{list(path)}: {gauge.label!r} {lines} faint {faint} spot {rounded(gauge.spot)}"
    for found in describe(node):
        yield f"also {found.word}: {dict(zip(found.labels, map(rounded, found.numbers), strict=True))}; {found.help}"
        for i, (label, value) in enumerate(zip(found.labels, found.numbers, strict=True)):
            if found.edit is not None:
                yield f"    {label} + 6: {tried(found.edit, i, value + 6)}"
    yield f"stretched by 1.5, 0.8: {tried(shape.stretched, 1.5, 0.8)}"
    for word, m in MAPS.items():
        yield f"{word}: {tried(shape.baked, m)}"
    yield f"drawn 30 px away at 50 degrees: {tried(shape.drawn, 30.0, 50.0)}"
    words = KINDS[kind].example.split()
    for count in range(1, len(words) + 1):
        line = " ".join(words[:count])
        yield f"hint at {line!r}: {hinted(line)}; then {hinted(line + ' ')}"


@pytest.mark.parametrize("kind", OFFERED)
def test_a_kind_is_as_it_was_found_right(kind):
    assert_as_recorded(f"kind-{kind}", portrait(kind))
