"""Copies that come into a scene beside their originals."""

from __future__ import annotations

from typing import TYPE_CHECKING

from chalcedon.formula import Formula, rename_in
from chalcedon.scene.responses import renamed

if TYPE_CHECKING:
    from chalcedon.scene.scene import Scene
    from chalcedon.scene.shape import Shape


def fresh_ids(scene: Scene, shape: Shape) -> None:
    """Gives a subtree that is in no scene ids that are free. What in it names another shape of it goes on doing so."""
    taken: set[str] = set()
    names: dict[str, str] = {}
    for s in shape.walk():
        new = scene.free_id(s._id or s.kind, taken)
        taken.add(new)
        if s._id and s._id != new:
            names[s._id] = new
        s._id = new
    if names:
        for s in shape.walk():
            _rename_within(s, names)


def _rename_within(shape: Shape, names: dict[str, str]) -> None:
    for name, value in list(shape._values.items()):
        kind = shape.properties[name].kind
        named = kind.refers(value)
        if named in names:
            shape.store(name, kind.referring(value, names[named]))
    for name in sorted(shape._formulas or ()):
        shape.store(name, shape.rewrite_formulas(name, lambda f: _renamed(f, names)))
    if "responses" in shape._values:
        told = shape._values["responses"]
        for i, old in enumerate(names):
            told = tuple(renamed(r, old, f"_between_{i}_") for r in told)
        for i, new in enumerate(names.values()):
            told = tuple(renamed(r, f"_between_{i}_", new) for r in told)
        shape.store("responses", told)


def _renamed(formula: Formula, names: dict[str, str]) -> Formula:
    """By way of names that nothing has: an id may be new for one shape and old for another."""
    text = formula.text
    for i, old in enumerate(names):
        text = rename_in(text, old, f"_between_{i}_")
    for i, new in enumerate(names.values()):
        text = rename_in(text, f"_between_{i}_", new)
    return Formula(text, formula.last)
