"""Images for scenes: PNG, JPEG, WebP and GIF (its first frame), linked in the scene's folder or embedded.

Nothing outside the folder of the scene is read. An embedded image is a data URL (RFC 2397).
"""

from __future__ import annotations

import base64
import binascii
import io
import os
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING
from urllib.parse import unquote_to_bytes

from chalcedon.problems import ChalcedonError, shorten

if TYPE_CHECKING:
    import numpy as np

FORMATS = ("PNG", "JPEG", "WEBP", "GIF")
SUFFIXES = {".png": "png", ".jpg": "jpeg", ".jpeg": "jpeg", ".webp": "webp", ".gif": "gif"}
LARGEST = 100_000_000
"""Px of an image; a small file can claim to hold far more."""
HEAVIEST = 256 * 2**20
"""Bytes of an image file."""


def load_image(source: str, folder: str | None) -> np.ndarray:
    """The pixels of an image as an array (height, width, 4) of uint8: red, green, blue, alpha, not premultiplied.

    Raises ChalcedonError, with a sentence, for what is missing, damaged, huge, of another format, or outside `folder`.
    The array is remembered and must not be changed.
    """
    if source.startswith("data:"):
        return _embedded(source)
    path = linked_file(source, folder)
    try:
        about = path.stat()
    except OSError:
        raise ChalcedonError(f"there is no file {shorten(source)}.", hint=f"It is looked for in {folder}.") from None
    if not path.is_file():
        raise ChalcedonError(f"{shorten(source)} is not a file.")
    if about.st_size > HEAVIEST:
        raise ChalcedonError(f"{shorten(source)} has {about.st_size // 2**20} MB; up to {HEAVIEST // 2**20} are read.")
    return _linked(str(path), about.st_mtime_ns, source)


def linked_file(source: str, folder: str | None) -> Path:
    """The file that a link leads to. Raises ChalcedonError when it leads out of the folder."""
    if not source:
        raise ChalcedonError("no file is named.", hint="Give a file in the folder of the scene.")
    if "://" in source or "\0" in source:
        raise ChalcedonError(f"{shorten(source)} is not a file.", hint="Images are not fetched from elsewhere.")
    if folder is None:
        raise ChalcedonError("the scene has no folder yet.", hint="Save it, or embed the image.")
    root = Path(folder).resolve()
    path = (root / source).resolve()
    if not path.is_relative_to(root):
        raise ChalcedonError(
            f"{shorten(source)} lies outside the scene's folder.", hint="Put it beside the scene, or embed it."
        )
    return path


@lru_cache(maxsize=64)
def _linked(path: str, changed: int, source: str) -> np.ndarray:
    try:
        return _decode(Path(path).read_bytes(), shorten(source))
    except OSError as error:
        raise ChalcedonError(f"{shorten(source)} can't be read: {error.strerror or error}.") from None


@lru_cache(maxsize=64)
def _embedded(source: str) -> np.ndarray:
    head, comma, body = source.partition(",")
    if not comma:
        raise ChalcedonError("the embedded image has no data.")
    try:
        data = base64.b64decode(body, validate=True) if head.endswith(";base64") else unquote_to_bytes(body)
    except (binascii.Error, ValueError):
        raise ChalcedonError("the embedded image is damaged: this is not base64.") from None
    return _decode(data, "the embedded image")


def _decode(data: bytes, name: str) -> np.ndarray:
    import numpy as np
    from PIL import Image, ImageOps, UnidentifiedImageError

    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as image:
            width, height = image.size
            if width * height > LARGEST:
                raise ChalcedonError(
                    f"{name} has {width} x {height} px.", hint=f"Up to {LARGEST // 10**6} million px are shown."
                )
            image.load()
            turned = ImageOps.exif_transpose(image) or image
            return np.asarray(turned.convert("RGBA"))
    except UnidentifiedImageError:
        raise ChalcedonError(f"{name} is not a PNG, JPEG, WebP or GIF image.") from None
    except Image.DecompressionBombError:
        raise ChalcedonError(f"{name} is far too large.", hint=f"Up to {LARGEST // 10**6} million px.") from None
    except ChalcedonError:
        raise
    except (OSError, ValueError, SyntaxError, MemoryError, OverflowError) as error:
        raise ChalcedonError(f"{name} is damaged: {error}.") from None


def embed(path: str | os.PathLike[str]) -> str:
    """A data URL that holds the image of a file. Raises ChalcedonError when it isn't one that is shown."""
    file = Path(path)
    try:
        data = file.read_bytes()
    except OSError as error:
        raise ChalcedonError(f"{file.name} can't be read: {error.strerror or error}.") from None
    _decode(data, file.name)
    kind = SUFFIXES.get(file.suffix.lower(), "png")
    return f"data:image/{kind};base64,{base64.b64encode(data).decode()}"


def source_for(path: str | os.PathLike[str], folder: str | None) -> str:
    """How a scene in `folder` names an image file: by a link when it lies in the folder, else embedded."""
    file = Path(path).resolve()
    if folder is not None and file.is_relative_to(Path(folder).resolve()):
        _decode(file.read_bytes(), file.name)
        return file.relative_to(Path(folder).resolve()).as_posix()
    return embed(file)
