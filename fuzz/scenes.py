"""Random scenes that use everything the format has, made from the declarations, so that a new property is in them."""

import json
import random

from chalcedon.files import scene_bytes
from chalcedon.formula.types import NUMBER, POINT, SWITCH, TEXT
from chalcedon.problems import ChalcedonError
from chalcedon.scene import KINDS, Circle, Group, Scene
from chalcedon.scene.inputs import Inputs
from chalcedon.scene.paints import FITS, SPREADS, UNITS, Paint, Palette, ShadowValue
from chalcedon.scene.pathvalue import PathData
from chalcedon.scene.presets import PresetName, Presets
from chalcedon.scene.responses import Responses
from chalcedon.scene.runs import Runs
from chalcedon.scene.steps import OPS
from chalcedon.scene.stepvalue import StepValue
from chalcedon.scene.values import Anchor, Choice, Flag, Many, Number, Ref, TextValue, Tuple

COLORS = ("#d97b4a", "#20406080", "linen", "var(--tide)", "var(--gone)", "none", "hsl(20 65% 57%)")
WORDS = ("", "Lamp", "tide & <b>quay</b>", "שלום afi\nfl", "é" * 30)
FORMULAS = {
    NUMBER: ("time * 2", "(time * 3) + 5", "pointer.x / 4", "self.width / 3", "circle.at.y", "tide * 9 if lit else 4",
             "nope", "1 / time", "scene.height - rect.top", "'x'", "(1, 2)"),
    POINT: ("(time * 20, 7)", "circle.center", "pointer.at + (3, 4)", "self.center", "rect.at", "(nope, 1)", "time",
            "'x'"),
    TEXT: ("f'{time:.1f} s'", "mix('red', '#20406080', time)", "palette.tide", "'gone' if time > 1 else 'red'", "time",
           "(1, time)"),
    SWITCH: ("time > 1", "pointer.x < 90", "nope", "not lit", "(1, 2)", "'x'"),
}  # fmt: skip
"""What may stand for a value, by what that is: right, wrong only now and then, or wrong."""
EDGES = (0, 1, -1, 0.5, 1e-9, 1e9, -1e9, 360, 1e5)


ANY_NUMBER = Number()


class Chance(random.Random):
    """Has `formulas`, the share of values that formulas give."""

    formulas = 0.03


def by_formula(chance, kind, value):
    """A value, or a formula in its place."""
    if kind.gives not in FORMULAS or chance.random() >= getattr(chance, "formulas", Chance.formulas):
        return value
    return {"formula": chance.choice(FORMULAS[kind.gives]), "last": value}


def some_number(chance, kind, wild):
    if chance.random() < wild:
        value = chance.choice(EDGES)
    else:
        value = round(chance.uniform(max(kind.low, -80), min(kind.high, 80)), 2)
    value = min(kind.high, max(kind.low, value))
    value = round(value) if kind.whole else value
    return by_formula(chance, kind, value)


def some_paint(chance):
    if chance.random() < 0.6:
        return chance.choice(COLORS)
    if chance.random() < 0.2:
        return {"image": "missing.png", "fit": chance.choice(FITS)}
    stops = sorted(chance.random() for _ in range(chance.randint(1, 4)))
    kind = chance.choice(["linear", "radial"])
    line = [round(chance.uniform(0, 1), 2) for _ in range(4 if kind == "linear" else 3)]
    return {
        kind: line,
        "stops": [[o, chance.choice(COLORS[:4])] for o in stops],
        "spread": chance.choice(SPREADS),
        "units": chance.choice(UNITS),
    }


def some_path(chance):
    parts = [f"M{chance.randint(-60, 60)} {chance.randint(-60, 60)}"]
    counts = {"L": 2, "Q": 4, "C": 6, "l": 2, "t": 2, "H": 1, "Z": 0, "M": 2}
    for _ in range(chance.randint(0, 6)):
        letter = chance.choice([*counts, "A"])
        if letter == "A":
            parts.append(f"A{chance.randint(0, 40)} 20 30 {chance.randint(0, 1)} 1 {chance.randint(-60, 60)} 9")
        else:
            parts.append(letter + " ".join(str(chance.randint(-60, 60)) for _ in range(counts[letter])))
    return " ".join(parts)


def some_life(chance, kind):
    """Responses, or inputs."""
    if isinstance(kind, Inputs):
        return {"tide": {"number": 0.4, "low": 0, "high": 1}, "lit": {"switch": True}}
    clicked = {"on": "click", "do": [{"set": "self.opacity", "to": 0.5, "over": 0.1}]}
    ticking = {"on": "every", "seconds": 0.1, "do": [{"toggle": "lit"}, {"emit": "told"}]}
    return chance.choice([[], [clicked], [ticking, clicked]])


def some_value(chance, kind, wild):
    """JSON that a kind of value takes, most of the time."""
    if isinstance(kind, Number):
        return some_number(chance, kind, wild)
    value = some_plain(chance, kind, wild)
    plain = not isinstance(value, dict) and not (isinstance(value, list) and any(isinstance(v, dict) for v in value))
    return by_formula(chance, kind, value) if plain else value


def some_plain(chance, kind, wild):
    """The same of a kind that is no single number, not as a formula; there may be some in it."""
    if isinstance(kind, Tuple):
        return [some_number(chance, kind.of, wild) for _ in kind.labels]
    if isinstance(kind, StepValue):
        op = chance.choice(list(OPS))
        numbers = [
            round(chance.uniform(-2, 2), 2) if op in ("scale", "matrix") else chance.randint(-60, 60) for _ in OPS[op]
        ]
        numbers = [by_formula(chance, ANY_NUMBER, n) for n in numbers]
        step = {op: numbers[0] if op == "rotate" else numbers}
        return (
            step
            | ({"about": [3, 4]} if chance.random() < 0.2 else {})
            | ({"off": True} if chance.random() < 0.1 else {})
        )
    if isinstance(kind, Many):
        count = chance.randint(kind.least, max(kind.least, 4))
        return [some_value(chance, kind.of, wild) for _ in range(1 if count in (2, 3) and kind.most == 4 else count)]
    if isinstance(kind, Flag):
        return chance.random() < 0.5
    if isinstance(kind, Choice | Anchor):
        return chance.choice(kind.words)
    if isinstance(kind, ShadowValue):
        return chance.choice([None, [3, -4, 5, "#00000080"], [0, 0, 0, "red"], [300, 1e5, 900, "#000"]])
    if isinstance(kind, Responses | Inputs):
        return some_life(chance, kind)
    if isinstance(kind, Runs):
        ends = sorted(chance.sample(range(9), 2))
        said = chance.choice([{"weight": 700}, {"size": 9}, {"fill": "red"}, {"fill": "var(--tide)", "italic": True}])
        return [[*ends, said]]
    if isinstance(kind, PresetName):
        return chance.choice(["brass", "tar"])
    if isinstance(kind, Presets):
        return {"brass": {"fill": "#c9a227", "stroke_width": 2}}
    if isinstance(kind, Palette):
        return {"tide": "#3e7f8b"}
    if isinstance(kind, Paint):
        return some_paint(chance)
    if isinstance(kind, PathData):
        return some_path(chance)
    if isinstance(kind, Ref):
        return chance.choice(["", "circle", "rect", "gone"])
    assert isinstance(kind, TextValue), kind
    return chance.choice(WORDS)


def random_scene(seed, count=12, wild=0.1):
    """A scene with about so many shapes of every kind, some of them in groups."""
    chance = Chance(seed)
    chance.formulas = chance.choice([0.01, 0.03, 0.3])
    scene = Scene([Circle(at=(100, 80))], size=(240, 160), palette={"tide": "#3e7f8b"})
    for _ in range(count):
        cls = KINDS[chance.choice([k for k in KINDS if k != "unknown"])]
        shape = cls(at=(chance.randint(0, 240), chance.randint(0, 160)))
        for name in chance.sample(list(cls.properties), chance.randint(0, len(cls.properties))):
            if name != "at" and (not isinstance(shape, Group) or chance.random() < 0.5):
                try:
                    shape.assign(name, some_value(chance, cls.properties[name].kind, wild))
                except ChalcedonError:
                    pass  # a value that its kind refuses is no part of a scene
        groups = [s for s in scene.walk() if isinstance(s, Group)]
        scene.add(shape, chance.choice(groups) if groups and chance.random() < 0.5 else None)
    scene.history.__init__()
    return scene


def random_file(seed):
    """The JSON value of a random scene."""
    return json.loads(scene_bytes(random_scene(seed)))
