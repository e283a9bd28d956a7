"""Writing a scene file: stable key order, one shape a line, exact numbers; saving that can't destroy."""

from __future__ import annotations

import os
from functools import partial
from operator import itemgetter
from pathlib import Path
from typing import Any

import orjson

from chalcedon.collector import collector_paused
from chalcedon.exact import encode
from chalcedon.files.reader import VERSION
from chalcedon.files.safely import write_safely
from chalcedon.scene import Group, Scene, Shape
from chalcedon.scene.declare import Declared
from chalcedon.scene.shapes import Unknown


def scene_bytes(scene: Scene) -> bytes:
    """The scene file as UTF-8 JSON. Reading it gives an equal scene."""
    with collector_paused():
        return _bytes(scene)


def shape_bytes(shape: Shape) -> bytes:
    """A shape with all it holds, as it stands in a scene file."""
    out: list[bytes] = []
    _write(shape, b"", b"", out)
    return b"\n".join(out)


def _bytes(scene: Scene) -> bytes:
    head: dict[str, Any] = {"chalcedon": scene._extra.get("chalcedon", VERSION)}
    head |= _values(scene)
    lines = [b"{" + b",\n".join(_item(k, v) for k, v in head.items() if k != "shapes")]
    if "shapes" in scene._extra:  # what stood there was not a list: kept as it was
        lines.append(b"," + _item("shapes", scene._extra["shapes"]) + b"}")
        return b"\n".join(lines) + b"\n"
    lines[0] += b","
    body: list[bytes] = []
    for i, shape in enumerate(scene.top._children):
        _write(shape, b"", b"," if i + 1 < len(scene.top._children) else b"", body)
    lines += [b'"shapes": [', *body, b"]}"]
    return b"\n".join(lines) + b"\n"


def _item(key: str, value: Any) -> bytes:
    return orjson.dumps(key) + b": " + encode(value)


def _write(shape: Shape, indent: bytes, comma: bytes, out: list[bytes]) -> None:
    """One line for a shape; for a group its own line, its children's, and a line that closes it."""
    if isinstance(shape, Unknown):
        raw = shape._extra["raw"]
        if isinstance(raw, dict):
            raw = {**({"kind": raw["kind"]} if "kind" in raw else {}), "id": shape._id, **raw}
        out.append(indent + encode(raw) + comma)
        return
    record: dict[str, Any] = {"kind": shape.kind, "id": shape._id}
    record |= _values(shape)
    text = encode(record) if shape._extra else orjson.dumps(record)
    if not isinstance(shape, Group) or not shape._children:
        out.append(indent + text + comma)
        return
    out.append(indent + text[:-1] + b',"children":[')
    last = len(shape._children) - 1
    for i, child in enumerate(shape._children):
        _write(child, indent + b" ", b"" if i == last else b",", out)
    out.append(indent + b"]}" + comma)


def _values(owner: Declared) -> dict[str, Any]:
    """What a shape or the scene states, in the order of the declarations, then what is not known here."""
    values, extra, formulas = owner._values, owner._extra, owner._formulas
    if not extra and not formulas:
        return {name: value if take is None else take(values) for name, value, take in _plan(owner)}
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


_Plan = list[tuple[str, Any, Any]]
_plans: dict[tuple[type[Declared], tuple[str, ...]], _Plan] = {}


def _plan(owner: Declared) -> _Plan:
    """For a shape that states just these properties: name by name a fixed JSON value, or what takes it from the
    stored values. Most shapes of a scene share a few plans."""
    key = (type(owner), tuple(owner._values))
    plan = _plans.get(key)
    if plan is None:
        always, rank, writers = _order(type(owner))
        plan = []
        for name in sorted({*owner._values, *always}, key=rank.__getitem__):
            if name not in owner._values:
                plan.append((name, always[name], None))
            elif writers[name] is None:
                plan.append((name, None, itemgetter(name)))
            else:
                plan.append((name, None, partial(_written, name, writers[name])))
        if len(_plans) > 10_000:
            _plans.clear()
        _plans[key] = plan
    return plan


def _written(name: str, write: Any, values: dict[str, Any]) -> Any:
    return write(values[name])


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
    return write_safely(Path(os.fspath(path)), scene_bytes(scene))
