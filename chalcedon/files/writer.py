"""Writing a scene file: stable key order, one shape a line, exact numbers; saving that can't destroy."""

from __future__ import annotations

import os
import secrets
from collections.abc import Callable, Mapping
from itertools import groupby
from pathlib import Path
from typing import Any

import orjson

from chalcedon.collector import collector_paused
from chalcedon.exact import encode
from chalcedon.files import migrate
from chalcedon.files.safely import write_safely
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Group, Scene, Shape
from chalcedon.scene.declare import Declared
from chalcedon.scene.shapes import Unknown


def scene_bytes(scene: Scene) -> bytes:
    """The scene file as UTF-8 JSON. Reading it gives an equal scene."""
    with collector_paused():
        return _bytes(scene)


def shape_bytes(shape: Shape) -> bytes:
    """A shape with all it holds, as it stands in a scene file."""
    return _text(shape, b"")


def _bytes(scene: Scene) -> bytes:
    head: dict[str, Any] = {"chalcedon": scene._extra.get("chalcedon", migrate.VERSION)}
    head |= _values(scene)
    lines = [b"{" + b",\n".join(_item(k, v) for k, v in head.items() if k != "shapes")]
    if "shapes" in scene._extra:  # what stood there was not a list: kept as it was
        lines.append(b"," + _item("shapes", scene._extra["shapes"]) + b"}")
        return b"\n".join(lines) + b"\n"
    lines[0] += b","
    body = _texts(scene.top._children, b"")
    lines += [b'"shapes": [', *([body] if body else []), b"]}"]
    return b"\n".join(lines) + b"\n"


def _item(key: str, value: Any) -> bytes:
    return orjson.dumps(key) + b": " + encode(value)


def _text(shape: Shape, indent: bytes) -> bytes:
    """One line for a shape; for a group its own line, its children's, and a line that closes it."""
    extra = shape._extra
    if extra and isinstance(shape, Unknown):
        raw = extra["raw"]
        if isinstance(raw, dict):
            raw = {**({"kind": raw["kind"]} if "kind" in raw else {}), "id": shape._id, **raw}
        return indent + encode(raw)
    record = _record(shape)
    text = indent + (encode(record) if extra else orjson.dumps(record))
    if not isinstance(shape, Group) or not shape._children:
        return text
    inside = _texts(shape._children, indent + b" ")
    return b'%s,"children":[\n%s\n%s]}' % (text[:-1], inside, indent)


def _texts(shapes: list[Shape], indent: bytes) -> bytes:
    """Shapes one after the other. Those that are no groups and hold nothing unknown are written together, with a word
    between that stands nowhere else: to write each by itself takes half as long again."""
    parts: list[bytes] = []
    for plain, run in groupby(shapes, lambda s: not s._extra and not isinstance(s, Group)):
        if not plain:
            parts += [_text(shape, indent) for shape in run]
            continue
        word = secrets.token_hex(12)
        records: list[Any] = []
        for shape in run:
            records += (_record(shape), word)
        text = orjson.dumps(records[:-1])[1:-1]
        parts.append(indent + text.replace(b',"%s",' % word.encode(), b",\n" + indent))
    return b",\n".join(parts)


def _record(shape: Shape) -> dict[str, Any]:
    """The JSON of a shape without what it holds."""
    if shape._extra or shape._formulas:
        return {"kind": shape.kind, "id": shape._id, **_values(shape)}
    values = shape._values
    key = type(shape), *values
    make = _makers.get(key)
    if make is None:
        if len(_makers) > 10_000:
            _makers.clear()
        make = _makers[key] = _maker(shape)
    return make(shape._id, values)


_Maker = Callable[[str, Mapping[str, Any]], dict[str, Any]]
_makers: dict[tuple[Any, ...], _Maker] = {}


def _maker(shape: Shape) -> _Maker:
    """Makes the record of any shape that states just the properties that this one does: most shapes of a scene share a
    few. It is a display of a dict in Python's own terms, which takes a fifth of the time of a loop over the names."""
    always, rank, writers = _order(type(shape))
    items, known = [f"'kind': {shape.kind!r}, 'id': id"], {}
    for i, name in enumerate(sorted({*shape._values, *always}, key=rank.__getitem__)):
        value, text = f"values[{name!r}]", f"values[{name!r}]"
        if name not in shape._values:
            known[f"fixed{i}"], text = always[name], f"fixed{i}"
        elif (write := writers[name]) is not None:
            known[f"write{i}"], text = write, f"v if type(v := {value}) is str else write{i}(v)"
        items.append(f"{name!r}: {text}")
    made: _Maker = eval(f"lambda id, values: {{{', '.join(items)}}}", known)  # names of properties and kinds alone
    return made


def _values(owner: Declared) -> dict[str, Any]:
    """What a shape or the scene states, in the order of the declarations, then what is not known here."""
    values, extra, formulas = owner._values, owner._extra, owner._formulas
    always, rank, writers = _order(type(owner))
    if extra:
        stated = {*values, *(n for n in extra if n in rank), *always}
    else:
        stated = {*values, *always}
    out: dict[str, Any] = {}
    for name in sorted(stated, key=rank.__getitem__):
        if name in values:
            value = values[name]
            write = writers[name]
            if write is not None or formulas:
                value = owner.properties[name].kind.write(value)
        elif name in extra:
            value = extra[name]
        else:
            value = always[name]
        out[name] = value
    for name, raw in extra.items():
        out.setdefault(name, raw)
    return out


_Order = tuple[dict[str, Any], dict[str, int], dict[str, Any]]
_orders: dict[type[Declared], _Order] = {}


def _order(cls: type[Declared]) -> _Order:
    """For a class: the JSON of properties that are always written, the rank of every property, and what writes
    those whose stored form isn't JSON as it is."""
    if cls not in _orders:
        props = cls.properties
        _orders[cls] = (
            {n: p.kind.write(p.default) for n, p in props.items() if p.always},
            {n: i for i, n in enumerate(props)},
            {n: None if p.kind.direct else p.kind.write for n, p in props.items()},
        )
    return _orders[cls]


def save_scene(scene: Scene, path: str | os.PathLike[str]) -> list[str]:
    """Writes the scene beside the file, syncs it, keeps the old file as `path~`, then puts the new one in place.

    At no moment is there no complete file at `path`, once there was one. Returns sentences about what of the old
    file could not be kept (its owner, other names of it); usually none. Raises ChalcedonError with a sentence when
    saving is not possible; the old file is then untouched.
    """
    check_name(path)
    return write_safely(Path(os.fspath(path)), scene_bytes(scene))


OTHERS = {".zip": "a bundle (pack)", **dict.fromkeys((".svg", ".png", ".webp", ".pdf", ".gif"), "a picture (render)")}


def check_name(path: str | os.PathLike[str]) -> None:
    """Raises ChalcedonError for a name that says that the file is something else than a scene: it couldn't be opened
    by that."""
    suffix = os.path.splitext(os.fspath(path))[1].lower()
    if suffix in OTHERS:
        raise ChalcedonError(
            f"a name that ends in {suffix} is that of {OTHERS[suffix]}, not of a scene.",
            os.fspath(path),
            "End it in .chal.",
        )
