"""Scenes of persistent shapes, as a library.

    import chalcedon

    scene = chalcedon.Scene(size=(960, 600))
    moon = scene.add(chalcedon.Circle(id="moon", at=(742, 118), radius=46, fill="#efe0b0"))
    moon.radius = 50
    [hit.id for hit in chalcedon.hit_test(scene, 742, 118)]
    chalcedon.save(scene, "harbour.chal")
    scene = chalcedon.open("harbour.chal")

Names are loaded when first used, so that importing the package costs nothing. Nothing here needs Qt except
`render`.
"""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    import os
    from collections.abc import Sequence

    from numpy import uint8
    from numpy.typing import NDArray

    from chalcedon.craft.measured import along
    from chalcedon.evaluate import DisplayList
    from chalcedon.files import open_scene, save_scene
    from chalcedon.files import save_scene as save
    from chalcedon.files.check import check_scene
    from chalcedon.formula import Formula
    from chalcedon.hit import Hit, hit_test, probe
    from chalcedon.hit.where import where
    from chalcedon.live import Live
    from chalcedon.problems import ChalcedonError
    from chalcedon.scene import (
        Annulus,
        Arc,
        Circle,
        Ellipse,
        Gradient,
        Group,
        Image,
        Line,
        Path,
        Picture,
        Polyline,
        Rect,
        RegularPolygon,
        Scene,
        Shadow,
        Shape,
        Star,
        Step,
        Text,
    )
    from chalcedon.scene.tints import tints, told_apart
    from chalcedon.source import parse_line, parse_text, print_shapes

__version__ = "0.1.0"

_HOMES = {
    "chalcedon.evaluate": ("DisplayList",),
    "chalcedon.craft.measured": ("along",),
    "chalcedon.files.check": ("check_scene",),
    "chalcedon.files": ("open_scene", "save_scene"),
    "chalcedon.files.images": ("size_naturally",),
    "chalcedon.formula": ("Formula",),
    "chalcedon.hit.where": ("where",),
    "chalcedon.live": ("Live",),
    "chalcedon.hit": ("Hit", "HitTester", "hit_test", "probe"),
    "chalcedon.problems": ("ChalcedonError",),
    "chalcedon.scene": (
        "Annulus",
        "Arc",
        "Circle",
        "Ellipse",
        "Gradient",
        "Group",
        "Image",
        "Line",
        "Path",
        "Picture",
        "Polyline",
        "Rect",
        "RegularPolygon",
        "Scene",
        "Shadow",
        "Shape",
        "Star",
        "Step",
        "Text",
    ),
    "chalcedon.scene.tints": ("tints", "told_apart"),
    "chalcedon.source": ("parse_line", "parse_text", "print_shapes"),
}
_WHERE = {name: home for home, names in _HOMES.items() for name in names}

__all__ = [
    "Annulus",
    "Arc",
    "ChalcedonError",
    "Circle",
    "DisplayList",
    "Ellipse",
    "Formula",
    "Gradient",
    "Group",
    "Hit",
    "Image",
    "Line",
    "Live",
    "Path",
    "Picture",
    "Polyline",
    "Rect",
    "RegularPolygon",
    "Scene",
    "Shadow",
    "Shape",
    "Star",
    "Step",
    "Text",
    "along",
    "check_scene",
    "hit_test",
    "open",
    "open_scene",
    "pack",
    "parse_line",
    "parse_text",
    "print_shapes",
    "probe",
    "render",
    "render_array",
    "render_bytes",
    "save",
    "save_scene",
    "size_naturally",
    "tints",
    "told_apart",
    "where",
]


def open(path: str) -> Scene:
    """The scene in a scene file, a bundle or an SVG file. Raises ChalcedonError when it can't be opened, and when
    anything in it is wrong. What an SVG file says that a scene can't is left out.

    `chalcedon.files.anything.open_any` opens what can be opened, and lists the rest.
    """
    from chalcedon.files.anything import open_any

    opened = open_any(path)
    if opened.problems:
        raise opened.problems[0]
    return opened.scene


def pack(scene: Scene, path: str | os.PathLike[str]) -> list[str]:
    """Writes a scene and all it needs (images, fonts, scenes that it goes to) into one bundle, a ZIP archive, which is
    opened as it is, or unpacked anywhere. Gives sentences about what could not be put in. Raises ChalcedonError."""
    from pathlib import Path

    from chalcedon.files.packed import pack as write

    return write(scene, Path(path).stem, path)


def render(
    scene: Scene,
    path: str | os.PathLike[str],
    scale: float = 1.0,
    *,
    only: Sequence[Shape] = (),
    clear: bool = False,
    outlines: bool = False,
) -> list[str]:
    """Writes a picture: .png or .webp at `scale` px a scene px, or .svg or .pdf. Needs Qt, but no screen.

    `only` are the shapes that are shown, without the page; `clear` leaves the page's paint out; `outlines` writes text
    as outlines where it would be text. Gives sentences about what the picture shows otherwise than the scene. Raises
    ChalcedonError.
    """
    from chalcedon.painter.pictures import Wanted, write_picture

    return write_picture(scene, path, Wanted(scale, only, clear, outlines))


def render_bytes(scene: Scene, scale: float = 1.0) -> bytes:
    """The page as the bytes of a PNG. As `render`."""
    from chalcedon.painter.export import png_bytes

    return png_bytes(scene, scale)


def render_array(scene: Scene, scale: float = 1.0) -> NDArray[uint8]:
    """The page as an array (height, width, 4) of red, green, blue and alpha, not premultiplied. As `render`."""
    from chalcedon.painter.export import rgba_array

    return rgba_array(scene, scale)


def __getattr__(name: str) -> Any:
    if name == "save":
        name = "save_scene"
    if name in _WHERE:
        return getattr(importlib.import_module(_WHERE[name]), name)
    if name[:1].isupper():  # a kind that has a file of its own
        from chalcedon.scene.shapes import CLASSES

        if name in CLASSES:
            return CLASSES[name]
    raise AttributeError(f"module 'chalcedon' has no attribute {name!r}")
