"""Words of the trade for what has another name here: kinds, properties, and single numbers of a property.

A word that means one thing is taken for it where a line is written loosely (source/line.py); anywhere else it is named
as the word to use. What could mean two things isn't listed.
"""

from __future__ import annotations

from typing import Any, NamedTuple


class Kind(NamedTuple):
    """A kind by another name, and what the name says beside it."""

    kind: str
    values: tuple[tuple[str, Any], ...] = ()
    leading: tuple[str, ...] = ()
    """What values without a name are, where that isn't what it is for the kind."""
    equal: str = ""
    """A pair that is given by one number."""


def _sided(sides: int) -> Kind:
    return Kind("regular_polygon", (("sides", sides),), ("at", "radius", "facing"))


KINDS: dict[str, Kind] = {
    "oval": Kind("ellipse"),
    "box": Kind("rect"),
    "rectangle": Kind("rect"),
    "disc": Kind("circle"),
    "disk": Kind("circle"),
    "square": Kind("rect", (("aspect_ratio", 1),), equal="size"),
    "ring": Kind("annulus"),
    "donut": Kind("annulus"),
    "segment": Kind("line"),
    "polygon": Kind("polyline", (("closed", True),)),
    "pie": Kind("arc", (("ends", "pie"),)),
    "picture": Kind("image"),
    "photo": Kind("image"),
    "layer": Kind("group"),
    "triangle": _sided(3),
    "pentagon": _sided(5),
    "hexagon": _sided(6),
    "heptagon": _sided(7),
    "octagon": _sided(8),
}
PROPERTIES = {
    "color": ("fill", "stroke"),
    "colour": ("fill", "stroke"),
    "border": ("stroke",),
    "outline": ("stroke",),
    "thickness": ("stroke_width",),
    "linewidth": ("stroke_width",),
    "line_width": ("stroke_width",),
    "alpha": ("opacity",),
    "r": ("radius",),
    "position": ("at",),
    "pos": ("at",),
    "center": ("at",),
    "centre": ("at",),
    "dimensions": ("size",),
    "font_size": ("size",),
    "text": ("content",),
    "d": ("data",),
    "href": ("source",),
    "stroke_linecap": ("cap",),
    "line_cap": ("cap",),
    "stroke_linejoin": ("join",),
    "line_join": ("join",),
    "stroke_miterlimit": ("miter_limit",),
    "stroke_dasharray": ("dash",),
    "stroke_dashoffset": ("dash_offset",),
    "border_radius": ("corners",),
    "mix_blend_mode": ("blend",),
    "pointer_events": ("pointer",),
    "object_fit": ("fit",),
    "clip_path": ("clip",),
}
"""The properties that a word may mean; of those, the first that a kind has."""
TOLD = {
    "hidden": "visible",
    "visibility": "visible",
    "name": "label",
    "transform": "steps",
    "transform_origin": "pivot",
}
"""Words that are only told the name of a property: they would take another value, or mean the id."""
NUMBERS = {
    "x": ("at", 0),
    "y": ("at", 1),
    "cx": ("at", 0),
    "cy": ("at", 1),
    "width": ("size", 0),
    "w": ("size", 0),
    "height": ("size", 1),
    "h": ("size", 1),
    "rx": ("radii", 0),
    "ry": ("radii", 1),
}
"""Single numbers of a property that is a pair."""
NOT_NAMES = frozenset(("nan", "inf", "infinity", "pi", "none", "true", "false"))
"""Words that are meant as values, wherever they stand."""


def other_names(kind: str) -> list[str]:
    """What else a kind is called."""
    return [word for word, meant in KINDS.items() if meant.kind == kind]


def property_meant(word: str, owner: Any) -> str:
    """The property of a class that a word means; empty for none. What can have ends is coloured by its stroke."""
    meant = PROPERTIES.get(word.lower(), ())
    if meant == PROPERTIES["color"] and (owner.is_open or owner.kind == "path"):
        meant = ("stroke",)
    return next((name for name in meant if name in owner.properties), "")


def number_meant(word: str, owner: Any) -> tuple[str, int] | None:
    """The property of a class, and which of its numbers, that a word means."""
    name, index = NUMBERS.get(word.lower(), ("", 0))
    prop = owner.properties.get(name)
    return (name, index) if prop is not None and len(prop.kind.labels) == 2 else None


def word_for(word: str, owner: Any) -> str:
    """A sentence that names the word to use for another; empty when there is none."""
    found = number_meant(word, owner)
    if found is not None:
        name, index = found
        return f"{word} is the {('first', 'second')[index]} number of {name}."
    name = property_meant(word, owner) or TOLD.get(word.lower(), "")
    return f"Here it is called {name}." if name in owner.properties else ""
