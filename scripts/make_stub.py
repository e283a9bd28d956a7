"""The library's types as a program of its users sees them: constructors with the properties of every kind."""

import re

import chalcedon
from chalcedon.scene import KINDS, Scene
from chalcedon.scene.shape import Group
from chalcedon.scene.shapes import MADE

HEAD = """# Made from the declarations by `make docs`.

from collections.abc import Iterable, Mapping, Sequence
from os import PathLike
from typing import Any

from numpy import uint8
from numpy.typing import NDArray

from chalcedon.scene.inputs import InputsOf
from chalcedon.scene.responses import Response
"""
FUNCTIONS = """
def open(path: str) -> Scene: ...
def render(
    scene: _Scene, path: str | PathLike[str], scale: float = ..., *, only: Sequence[Shape] = ..., clear: bool = ...,
    outlines: bool = ...,
) -> list[str]: ...
def render_bytes(scene: _Scene, scale: float = ...) -> bytes: ...
def render_array(scene: _Scene, scale: float = ...) -> NDArray[uint8]: ...
def __getattr__(name: str) -> Any: ...
"""


def taken(annotation):
    """What may be given for a property that is declared as Property[...]: lists where tuples of any length are kept."""
    inner = re.fullmatch(r"Property\[(.*)\]", annotation).group(1)
    inner = re.sub(r"^tuple\[(.*), \.\.\.\]$", r"Sequence[\1]", inner)
    return inner.replace("Sequence[Step]", "Sequence[Step | Mapping[str, Any]]")


def annotations(cls):
    found = {}
    for base in reversed(cls.__mro__):
        found |= {n: a for n, a in vars(base).get("__annotations__", {}).items() if n in cls.properties}
    return found


def constructor(cls, before):
    known = annotations(cls)
    words = {w: "float" if len(g.labels) == 1 else "Sequence[float]" for w, g in getattr(cls, "words", {}).items()}
    given = {**{n: taken(known[n]) for n in cls.properties}, **words}
    lines = [f"    def __init__(\n        self, {before}"]
    lines += [f"        {name}: {kind} = ...," for name, kind in given.items()]
    return "\n".join([*lines, "    ) -> None: ..."])


def stub():
    """The text of chalcedon/__init__.pyi."""
    classes = {KINDS[kind].__name__: KINDS[kind] for kind in MADE} | {"Group": Group, "Scene": Scene}
    lines = [HEAD]
    for home, names in sorted(chalcedon._HOMES.items()):
        own = [f"{n} as {n}" for n in sorted(names) if n not in classes]
        if own:
            lines.append(f"from {home} import {', '.join(own)}")
    for name, cls in sorted(classes.items()):
        lines.append(f"from {cls.__module__} import {name} as _{name}")
    lines += ["from chalcedon.files import save_scene as save", "", "__version__: str", FUNCTIONS]
    for name, cls in sorted(classes.items()):
        before = "shapes: Iterable[Shape] = ..., *," if cls is Scene else "*args: Any, id: str | None = ...,"
        if cls is Group:
            before += " children: Iterable[Shape] | None = ...,"
        lines += [f"class {name}(_{name}):", constructor(cls, before), ""]
    return "\n".join(lines)
