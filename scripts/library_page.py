"""The page docs/library.md: the names of the library with their signatures and what their docstrings say."""

import dataclasses
import inspect
import re
import types

import chalcedon
from chalcedon.craft.checkup import Remark
from chalcedon.files import Opened
from chalcedon.geometry.along import Along
from chalcedon.hit import Hit, HitTester
from chalcedon.hit.probe import Finding
from chalcedon.scene.facets import Facets
from chalcedon.view import SceneView

FUNCTIONS = types.FunctionType, classmethod, staticmethod
INSIDE = "For edits and readers", "For readers", "For edits"
"""What the docstrings of the ground's own doors say."""

GROUPS = {
    "The scene": [chalcedon.Scene],
    "Shapes": [chalcedon.Shape, chalcedon.Group],
    "Values": [chalcedon.Gradient, chalcedon.Picture, chalcedon.Shadow, chalcedon.Step, chalcedon.Formula],
    "Asked of a scene": [HitTester, Hit, Finding, Along, Remark, Opened, chalcedon.DisplayList],
    "In a window of one's own": [SceneView],
    "For who makes a kind of shape": [Facets],
}


def said(thing):
    return " ".join((thing.__doc__ or "").split()).replace("|", "\\|")


def signature(function):
    found = inspect.signature(function)
    given = [p for n, p in found.parameters.items() if n not in ("self", "cls")]
    text = str(found.replace(parameters=given))
    return re.sub(r"(: |-> )'([^']*)'", r"\1\2", text)  # annotations are texts; so are some defaults


def members(cls):
    """The public methods and properties that a class has of its own, or from a base that has no section."""
    shown = {c for group in GROUPS.values() for c in group}
    bases = [b for b in cls.__mro__ if b is cls or (b not in shown and b.__module__.startswith("chalcedon"))]
    for name in dict.fromkeys(n for b in bases for n in vars(b)):
        owner = next(b for b in bases if name in vars(b))
        member = vars(owner)[name]
        handed_down = any(hasattr(b, name) for b in cls.__mro__ if not b.__module__.startswith("chalcedon"))
        if name.startswith("_") or handed_down or not member.__doc__ or any(w in said(member) for w in INSIDE):
            continue
        if isinstance(member, property):
            yield name, "", member
        elif isinstance(member, FUNCTIONS):
            plain = getattr(member, "__func__", member)
            yield name, signature(plain), plain


def fields(cls):
    if dataclasses.is_dataclass(cls):
        return [f.name for f in dataclasses.fields(cls) if not f.name.startswith("_")]
    return [f for f in getattr(cls, "_fields", ()) if not f.startswith("_")]


def library():
    """The page as text."""
    out = [
        "# The library",
        "",
        "Made from the code by `make docs`. The properties of every kind, which are also the named arguments of its",
        "class, are in the [reference](reference.md); the [guide](guide.md) has examples by task.",
        "",
        "## Functions",
        "",
    ]
    for name in sorted(chalcedon.__all__):
        thing = getattr(chalcedon, name)
        if inspect.isfunction(thing):
            out += [f"`chalcedon.{name}{signature(thing)}`  ", said(thing), ""]
    for title, classes in GROUPS.items():
        out += [f"## {title}", ""]
        for cls in classes:
            home = "chalcedon" if hasattr(chalcedon, cls.__name__) else cls.__module__
            out += [f"### {home}.{cls.__name__}", "", said(cls), ""]
            if own := fields(cls):
                out += [f"Has {', '.join(f'`{f}`' for f in own)}.", ""]
            for name, args, member in members(cls):
                if name not in own:
                    out += [f"`{name}{args}`  ", said(member), ""]
    return "\n".join(out).rstrip() + "\n"
