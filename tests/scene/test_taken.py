"""What every kind of value takes, and what it says to what it doesn't, as it was read through and found right."""

import pytest
from recorded import assert_as_recorded

from chalcedon.formula import Formula
from chalcedon.problems import ChalcedonError, shorten
from chalcedon.scene import KINDS, Scene

PLAIN = [
    *(None, True, False, 0, 1, -1, 0.25, 360.5, 1e12, -1e12, float("nan"), float("inf"), 10**400),
    *("", "none", "red", "#1C2B8a80", "center", "max", "evenodd", "no/such:word", "a b", "x" * 300, "\ud800", b"x"),
]
LISTS = [
    *([], [0], [1, 2], [-1, 2], [0, 0, 1], [1, 2, 3, 4], [1, 2, 3, 4, 5], [1, None], ["a"], ["a", "a"], [[1]], "ab"),
    *([[0, 0], [10, 5], [10, 5]], [[0, 0], [10]], [{}], [{"formula": "x"}, 2], [[1, 2, 3, "#00000080"]]),
]
FORMULAS = [{"formula": "1 +", "last": 1}, {"formula": 3}, {"last": 2}, Formula("2 * 3", 6), {"formula": "x", "on": 1}]
STEPS = [
    *([{"rotate": 30}], [{"rotate": [30]}], [{"rotate": 1, "scale": 2}], [{"turn": 30}], [{"scale": 2, "off": 1}]),
    *([{"scale": 2, "off": True}], [{"skew": [1]}], [{"matrix": [1, 0, 0, 1, 5, 6]}], [{"rotate": 5, "about": [1, 2]}]),
    *([{"rotate": 5, "about": 7}], [{"translate": ["a", 1]}], [{"rotate": {"formula": "time", "last": 4}}], [3]),
]
STOPS = [[0, "#fff"], [1, "#000"]]
PAINTS = [
    *({"linear": [0, 0, 1, 0], "stops": STOPS}, {"linear": [0, 0, 1], "stops": STOPS}, {"linear": [0, 0, 1, 0]}),
    *({"radial": [0.5, 0.5, 0.5], "stops": STOPS, "spread": "reflect", "units": "scene"}, {"stops": STOPS}),
    *({"radial": [0.5, 0.5, -1], "stops": STOPS}, {"radial": [0.5, 0.5, 0], "stops": STOPS}, {"radial": [1] * 5}),
    *({"radial": [0.5, 0.5, 1, 0, 0], "stops": STOPS}, {"linear": [0, 0, 1, 0], "radial": [0, 0, 1], "stops": STOPS}),
    *({"linear": [0, 0, 1, 0], "stops": []}, {"linear": [0, 0, 1, 0], "stops": [[0.5, "red"]]}, {"linear": 5}),
    *({"linear": [0, 0, 1, 0], "stops": [[0, "reed"]]}, {"linear": [0, 0, 1, 0], "stops": [[0]]}),
    *({"linear": [0, 0, 1, 0], "stops": [[0, "#fff"], [2, "#000"]]}, {"linear": [0, 0, 1, 0], "stops": STOPS * 501}),
    *({"linear": [0, 0, 1, 0], "stops": STOPS, "spread": "pads"}, {"linear": [0, 0, 1, 0], "stops": STOPS, "odd": 1}),
    *({"linear": [0, 0, 1, 0], "stops": STOPS, "units": "page"}, {"linear": [0, 0, 1, 0], "stops": STOPS * 500}),
    *({"image": "a.png"}, {"image": "a.png", "fit": "tiles"}, {"image": 3}, {"image": "a.png", "odd": 1, "even": 2}),
    *({"pattern": "weave"}, {"pattern": "we ave"}, {"pattern": "weave", "steps": [{"scale": 2}]}, {"pattern": 1}),
    *({"pattern": "weave", "odd": 1, "even": 2}, {"pattern": "weave", "steps": [{"rotate": {"formula": "x"}}]}),
]
SAID = {
    "runs": [[[0, 3, {"weight": 700}]], [[3, 0, {}]], [[0, 3]], [[0, 3, {"odd": 1}]], [[-1, 3, {"fill": "red"}]]],
    "shadow": [[1, 2, 3, "#00000080"], [1, 2, -3, "red"], [1, 2, 3], [1, 2, 3, "redd"], {"x": 1}],
    "responses": [
        *([{"on": "click", "do": []}], [{"on": "clock", "do": []}], [{"on": "click", "do": [{"set": "self.fill"}]}]),
        *([{"on": "click", "do": [{"set": "self.radius", "to": 70}]}], [{"on": "key", "do": [{"go": "a.chal"}]}], [{}]),
        *([{"on": "click", "do": [{"odd": 1}]}], [{"on": "click", "if": 3, "do": []}], [{"do": []}], [{"on": "click"}]),
    ],
    "palette": [{"sea": "#1c2b8a"}, {"sea": "sea"}, {"a b": "#fff"}, {"sea": 3}, {"sea": {"formula": "mix()"}}],
    "presets": [{"brass": {"fill": "red"}}, {"brass": {"fil": "red"}}, {"a b": {}}, {"brass": 3}],
    "repeat": [{"count": 3}, {"count": -1}, {"grid": [2, 3]}, {"over": "points"}, {"count": 3, "odd": 1}],
}


def kinds_of_value():
    """Each kind of value once, by the first property that has it."""
    seen = {}
    for owner in (Scene, *KINDS.values()):
        for name, prop in owner.properties.items():
            key = type(prop.kind).__name__, prop.kind.describe(), str(prop.kind.schema())
            seen.setdefault(key, (getattr(owner, "kind", "scene"), name, prop.kind))
    return list(seen.values())


def shown(value):
    text = repr(value)
    return text if len(text) <= 110 else f"{text[:80]} … {len(text)}"


@pytest.mark.parametrize("part", ["plain", "lists", "formulas"])
def test_what_is_taken_and_what_is_said_of_the_rest_is_as_it_was_found_right(part):
    lines = []
    for owner, name, kind in kinds_of_value():
        lines.append(f"{owner}.{name}: {kind.describe()}")
        groups = {}
        own = [*SAID.get(name, ()), *(STEPS if name == "steps" else PAINTS if name in ("fill", "background") else ())]
        for raw in {"plain": PLAIN, "lists": [*LISTS, *own], "formulas": FORMULAS}[part]:
            try:
                stored = kind.read(raw)
                said = shown(stored) if stored != raw else "as it is"
                said += f"; written {shown(kind.write(stored))}" if kind.write(stored) not in (raw, stored) else ""
            except ChalcedonError as problem:
                said = f"refused: {problem}".replace(shorten(raw), "…", 1)
            groups.setdefault(said, []).append(shown(raw))
        lines += [f"    {' | '.join(raws)}: {said}" for said, raws in groups.items()]
    assert_as_recorded(f"taken-{part}", lines)
