"""The JSON Schema of the scene file, made from the declarations (JSON Schema 2020-12)."""

from __future__ import annotations

from typing import Any

from chalcedon.scene import KINDS, OFFERED, Scene
from chalcedon.scene.declare import Declared


def _properties(cls: type[Declared], values: dict[str, Any]) -> dict[str, Any]:
    """The properties of a class. What a property takes is put into `values` once, however many kinds have it."""
    out = {}
    for name, prop in cls.properties.items():
        taken = prop.kind.schema()
        key = next(k for k in (name, *(f"{name}_{i}" for i in range(2, 99))) if values.get(k, taken) == taken)
        values[key] = taken
        out[name] = {"description": prop.help, "$ref": f"#/$defs/{key}"}
    return out


def schema() -> dict[str, Any]:
    """The schema of a whole scene file. Unknown properties are allowed: they are kept."""
    values: dict[str, Any] = {}
    kinds = {}
    for kind in OFFERED:
        own: dict[str, Any] = {"kind": {"const": kind}, "id": {"type": "string", "pattern": r"^[^\W\d]\w*$"}}
        own |= _properties(KINDS[kind], values)
        if kind == "group":
            own["children"] = {"type": "array", "items": {"$ref": "#/$defs/shape"}}
        kinds[kind] = {"type": "object", "required": ["kind"], "properties": own}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Chalcedon scene",
        "type": "object",
        "required": ["chalcedon"],
        "properties": {
            "chalcedon": {"type": "integer", "minimum": 1, "description": "version of the file format"},
            **_properties(Scene, values),
            "shapes": {
                "type": "array",
                "items": {"$ref": "#/$defs/shape"},
                "description": "the top level, in paint order: later is painted over earlier",
            },
        },
        "$defs": {
            **values,
            **kinds,
            "shape": {
                "type": "object",
                "required": ["kind"],
                "allOf": [
                    {"if": {"properties": {"kind": {"const": k}}}, "then": {"$ref": f"#/$defs/{k}"}} for k in kinds
                ],
            },
        },
    }
