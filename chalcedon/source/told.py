"""Changes in words: who, what of it, from what, to what."""

from __future__ import annotations

from typing import Any, NamedTuple

from chalcedon.formula import Formula
from chalcedon.problems import shorten
from chalcedon.scene import Scene, Shape
from chalcedon.scene.declare import Property
from chalcedon.scene.net import NOTHING, Change, Unread
from chalcedon.scene.tidy import article, tidy
from chalcedon.source.text import spelled

LONGEST = 60
"""Characters of a value."""
DIGITS = 6
MOST = 3
"""Parts of a list that are named one by one."""


class Told(NamedTuple):
    """A change in words. Before and after are empty where there is nothing to say of them."""

    who: str
    what: str
    before: str = ""
    after: str = ""

    def __str__(self) -> str:
        if self.what in ("is new", "is gone"):
            return f"{self.who} {self.what}: {self.before or self.after}"
        said = f"{self.who}: {self.what}" if self.who else self.what
        if self.before and self.after:
            return f"{said} {self.before} → {self.after}"
        return f"{said} {self.before or self.after}".rstrip()


def tell(change: Change, owner: Scene | Shape | None = None, other: Shape | None = None) -> Told:
    """A change in words. `owner` is what has the property, where the change doesn't say it; `other` the shape that has
    the value after, if that is another."""
    who = change.id or "scene"
    if change.what == "came":
        assert change.shape is not None
        return Told(who, "is new", "", article(change.shape.kind))
    if change.what == "left":
        assert change.shape is not None
        return Told(who, "is gone", article(change.shape.kind))
    if change.what == "renamed":
        return Told(who, "id", change.before, change.after)
    if change.what == "moved":
        (old_group, old), (group, new) = change.before, change.after
        if old_group == group:
            return Told(who, "place in the order", str(old + 1), str(new + 1))
        return Told(who, "group", old_group or "the scene", group or "the scene")
    owner = change.shape if change.shape is not None else owner
    one, two = _property(owner, change.name), _property(other if other is not None else owner, change.name)
    word = _word(one or two, change.name)
    if one is not None and one is two and _has_many_parts(change.before) and _has_many_parts(change.after):
        return Told(who, word, *_parts(change.before, change.after))
    return Told(who, word, _value(one, change.before), _value(two, change.after))


def _property(owner: Scene | Shape | None, name: str) -> Property[Any] | None:
    return owner.properties.get(name) if owner is not None else None


def _value(prop: Property[Any] | None, value: Any) -> str:
    if value is NOTHING:
        return "–"
    if value is None:
        return "none"
    if isinstance(value, Unread):
        return f"unread {shorten(value.raw)}"
    text = str(value) if prop is None else _said(value if isinstance(value, str) else prop.kind.spelled(value))
    if not text:
        return "none"
    return text if len(text) <= LONGEST else text[: LONGEST - 1] + "…"


def _word(prop: Property[Any] | None, name: str) -> str:
    """What a property is called where nothing says of which part of a shape it is: `width` is that of the stroke."""
    if prop is None:
        return name
    return name.replace("_", " ") if prop.word in name.split("_") else prop.word


def _said(value: Any) -> str:
    """A value as it is read: without the marks by which a text form would tell what it is."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Formula):
        return f"{{{value.text}}}"
    if isinstance(value, str):
        return value.replace("\n", " ⏎ ")
    if isinstance(value, tuple | list) and not any(isinstance(v, tuple | list) for v in value):
        return ", ".join(map(_said, value))
    if type(value) in (tuple, list):
        inner = [type(v) in (tuple, list) for v in value]
        if not any(inner):  # steps
            return ", ".join(map(_said, value))
        if all(inner) and not any(isinstance(v, tuple | list) for part in value for v in part):
            return " · ".join(map(_said, value))
    return spelled(_short(value))


def _short(value: Any) -> Any:
    """A value whose numbers have no more digits than are read."""
    if type(value) is float:
        return tidy(value, DIGITS)
    return tuple(map(_short, value)) if type(value) is tuple else value


def _has_many_parts(value: Any) -> bool:
    return type(value) is tuple and len(value) > 0 and isinstance(value[0], tuple) and len(value) > MOST


def _parts(before: tuple[Any, ...], after: tuple[Any, ...]) -> tuple[str, str]:
    """Of two long lists only what differs, if they are equally long; else how many there are."""
    if len(before) != len(after):
        return str(len(before)), str(len(after))
    differ = [i for i, (a, b) in enumerate(zip(before, after, strict=True)) if a != b]
    if len(differ) > MOST:
        return f"{len(differ)} of {len(before)}", "others"
    said = [" · ".join(f"{i + 1}: {_said(v[i])}" for i in differ) for v in (before, after)]
    return said[0], said[1]
