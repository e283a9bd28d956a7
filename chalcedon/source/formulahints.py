"""Completion of formulas: the names and functions that could stand at the cursor, with what they mean."""

from __future__ import annotations

import re
from typing import NamedTuple

from chalcedon.evaluate.names import BOX, MOMENT, STATES, readable
from chalcedon.formula.easing import NAMES as EASINGS
from chalcedon.formula.table import FUNCTIONS
from chalcedon.scene import Scene, Shape
from chalcedon.scene.declare import Declared

MOST = 60
"""Candidates that are offered at once."""


class Candidate(NamedTuple):
    """A word that could stand there, and its meaning."""

    word: str
    meaning: str


class FormulaHint(NamedTuple):
    """Candidates for the characters [start, cursor), and what the function around the cursor takes."""

    start: int
    candidates: tuple[Candidate, ...]
    usage: str


_PATH = re.compile(r"[A-Za-z_][\w.]*$|$")
_QUOTED = re.compile(r"""(["'])([\w-]*)$""")


def formula_hint(scene: Scene, owner: Declared, text: str, cursor: int) -> FormulaHint:
    """The hint for a formula of a shape, or of the scene, with the cursor after so many characters."""
    before = text[:cursor]
    usage = _usage(before)
    quoted = _QUOTED.search(before)
    if quoted is not None and before.count(quoted[1]) % 2:
        easings = EASINGS if usage.startswith(("ease", "keyframes")) else ()
        found = [Candidate(w, "easing") for w in easings if w.startswith(quoted[2])]
        return FormulaHint(quoted.start(2), tuple(found), usage)
    match = _PATH.search(before)
    partial = match.group() if match is not None else ""
    *path, last = partial.split(".")
    start = cursor - len(last)
    words = _attributes(scene, owner, path) if path else _names(scene, owner)
    near = [c for c in words if c.word.lower().startswith(last.lower())]
    near += [c for c in words if last and last.lower() in c.word.lower() and c not in near]
    exact = len(near) == 1 and near[0].word == last
    return FormulaHint(start, () if exact or (not last and not path) else tuple(near[:MOST]), usage)


def _names(scene: Scene, owner: Declared) -> list[Candidate]:
    out = [Candidate(i.name, f"input: {i.title}") for i in scene.inputs.specs()]
    out += [Candidate(s.id, f"{s.label or s.kind}") for s in scene.walk() if s is not owner]
    if isinstance(owner, Shape):
        out.append(Candidate("self", "this shape"))
        if owner.parent is not None and owner.parent.id:
            out.append(Candidate("parent", f"the group around it, {owner.parent.id}"))
    said = {p[0]: m for p, (_kind, m) in MOMENT.items() if len(p) == 1}
    out += [Candidate(n, said.get(n, "the page")) for n in dict.fromkeys(p[0] for p in MOMENT)]
    if scene.palette:
        out.append(Candidate("palette", "named colours"))
    out += [Candidate(f"{f.name}(", f"{f.signature}: {f.help}") for f in FUNCTIONS.values()]
    return out


def _attributes(scene: Scene, owner: Declared, path: list[str]) -> list[Candidate]:
    first, rest = path[0], path[1:]
    if first == "palette":
        return [Candidate(n, c) for n, c in scene.palette if n.isidentifier()] if not rest else []
    known = [p[len(path)] for p in MOMENT if len(p) > len(path) and list(p[: len(path)]) == path]
    if known:
        return [Candidate(n, MOMENT.get((*path, n), (None, "middle of the page"))[1]) for n in dict.fromkeys(known)]
    if first in scene.inputs:
        return _xy() if scene.inputs.spec(first).kind == "point" and not rest else []
    shape = _shape(scene, owner, first)
    if shape is None:
        return []
    if not rest:
        out = [Candidate(n, shape.properties[n].help) for n in readable(shape) if n not in BOX]
        out += [Candidate(n, m) for n, (_kind, m) in BOX.items()]
        return out + [Candidate(n, m) for n, (_kind, m) in STATES.items()]
    if len(rest) == 1 and (rest[0] == "center" or len(getattr(_kind_of(shape, rest[0]), "labels", ())) == 2):
        return _xy()
    return []


def _xy() -> list[Candidate]:
    return [Candidate("x", "the first of the two numbers"), Candidate("y", "the second")]


def _kind_of(shape: Shape, name: str) -> object:
    return shape.properties[name].kind if name in shape.properties else None


def _shape(scene: Scene, owner: Declared, name: str) -> Shape | None:
    if name == "self":
        return owner if isinstance(owner, Shape) else None
    if name == "parent":
        return owner.parent if isinstance(owner, Shape) and owner.parent is not None and owner.parent.id else None
    return scene.get(name)


def _usage(before: str) -> str:
    """The signature and the meaning of the function whose brackets the cursor is in."""
    depth = 0
    for at in range(len(before) - 1, -1, -1):
        if before[at] == ")":
            depth += 1
        elif before[at] == "(":
            if depth == 0:
                name = re.search(r"[A-Za-z_]\w*$", before[:at])
                if name is None:
                    continue
                function = FUNCTIONS.get(name.group())
                return f"{function.signature}: {function.help}" if function is not None else ""
            depth -= 1
    return ""


def reference_to(scene: Scene, asked: str, shape: Shape, name: str = "", index: int = -1) -> str:
    """What a formula writes to read a shape that is pointed at: the property said, else what suits the one that is
    being written, `asked`."""
    if name and name in readable(shape):
        labels = getattr(_kind_of(shape, name), "labels", ())
        component = f".{labels[index]}" if 0 <= index < len(labels) == 2 else ""
        return f"{shape.id}.{name}{component}"
    if asked in ("at.x", "at.y"):
        return f"{shape.id}.center.{asked[-1]}"
    if asked == "at":
        return f"{shape.id}.center"
    if asked in readable(shape):
        return f"{shape.id}.{asked}"
    return f"{shape.id}.width"
