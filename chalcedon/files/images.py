"""Images for scenes: PNG, JPEG, WebP and GIF (its first frame), linked in the scene's folder or embedded.

Nothing outside the folder of the scene is read. An embedded image is a data URL (RFC 2397).
"""

from __future__ import annotations

import base64
import binascii
import io
import math
import os
import stat
import struct
import warnings
from collections.abc import Hashable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING
from urllib.parse import unquote_to_bytes

from cachetools import LRUCache, cached

from chalcedon.geometry import Box
from chalcedon.problems import ChalcedonError, shorten
from chalcedon.scene import Image
from chalcedon.scene.tidy import tidy

if TYPE_CHECKING:
    import numpy as np
    import PIL.Image

FORMATS = ("PNG", "JPEG", "WEBP", "GIF")
SUFFIXES = {".png": "png", ".jpg": "jpeg", ".jpeg": "jpeg", ".webp": "webp", ".gif": "gif"}
LARGEST = 100_000_000
"""Px of an image; a small file can claim to hold far more."""
HEAVIEST = 256 * 2**20
"""Bytes of an image file."""


MOST_KEPT = 200
"""Answers about images that are remembered; each is small."""


def image_size(source: str, folder: str | None) -> tuple[int, int]:
    """Width and height of an image in px, as it is shown (a photo turned by its EXIF orientation is turned).

    Only the head of the file is read. Raises ChalcedonError, with a sentence, for what is missing, huge, of another
    format, or outside `folder`.
    """
    return _size(*_named(source, folder))


def _short(source: str, *rest: Hashable) -> Hashable:
    """A key that doesn't keep an embedded image in memory. Python remembers the hash of a text."""
    return (hash(source), len(source), *rest)


def load_image(source: str, folder: str | None, halvings: int = 0) -> np.ndarray:
    """The pixels of an image as an array (height, width, 4) of uint8: red, green, blue, alpha, not premultiplied;
    half as large as often as `halvings` says, which takes less time and memory where the format allows.

    Raises ChalcedonError as `image_size` does, and for what is damaged.
    """
    return _decode(_data(*_named(source, folder)), _called(source), halvings)


def image_key(source: str, folder: str | None) -> Hashable:
    """Something that stays equal as long as the image is the same. Raises ChalcedonError when there is none."""
    return _short(*_named(source, folder))


def _named(source: str, folder: str | None) -> tuple[str, str, int, int]:
    """What an image is known by: its data URL, or its path, with the file's time and size."""
    if source.startswith("data:"):
        return source, "", 0, 0
    path = linked_file(source, folder)
    try:
        about = path.stat()
    except (OSError, ValueError):
        raise ChalcedonError(f"there is no file {shorten(source)}.", hint=f"It is looked for in {folder}.") from None
    if not stat.S_ISREG(about.st_mode):
        raise ChalcedonError(f"{shorten(source)} is not a file.")
    if about.st_size > HEAVIEST:
        raise ChalcedonError(
            f"{shorten(source)} has {about.st_size / 2**20:.4g} MB; up to {HEAVIEST // 2**20} are read."
        )
    return source, str(path), about.st_mtime_ns, about.st_size


def _called(source: str) -> str:
    return "the embedded image" if source.startswith("data:") else shorten(source)


def _data(source: str, path: str, changed: int, size: int) -> bytes:
    if path:
        try:
            return Path(path).read_bytes()
        except OSError as error:
            raise ChalcedonError(f"{shorten(source)} can't be read: {error.strerror or error}.") from None
    head, comma, body = source.partition(",")
    if not comma:
        raise ChalcedonError("the embedded image has no data.")
    try:
        return base64.b64decode(body, validate=True) if head.endswith(";base64") else unquote_to_bytes(body)
    except (binascii.Error, ValueError):
        raise ChalcedonError("the embedded image is damaged: this is not base64.") from None


@cached(LRUCache(MOST_KEPT), key=_short)
def _size(source: str, path: str, changed: int, size: int) -> tuple[int, int]:
    with _reading(_data(source, path, changed, size), _called(source)) as image:
        width, height = image.size
        return (height, width) if _orientation(image) >= 5 else (width, height)


def _orientation(image: PIL.Image.Image) -> int:
    """How a photo lies (EXIF 2.3, section 4.6.4), as far as the head of the file says: from 5 on, on its side. 1 when
    it doesn't say."""
    from PIL import Image

    raw = image.info.get("exif")
    if not isinstance(raw, bytes):
        return 1
    exif = Image.Exif()
    try:
        exif.load(raw)
        found = exif.get(0x0112, 1)
    except (SyntaxError, ValueError, OSError, struct.error, KeyError, IndexError, TypeError):
        return 1  # a picture with a damaged remark is a picture
    return found if type(found) is int and 1 <= found <= 8 else 1


def linked_file(source: str, folder: str | None) -> Path:
    """The file that a link leads to. Raises ChalcedonError when it leads out of the folder."""
    if not source:
        raise ChalcedonError("no file is named.", hint="Give a file in the folder of the scene.")
    if "://" in source or "\0" in source:
        raise ChalcedonError(f"{shorten(source)} is not a file.", hint="Images are not fetched from elsewhere.")
    if folder is None:
        raise ChalcedonError("the scene has no folder yet.", hint="Save it, or embed the image.")
    try:
        root = Path(folder).resolve()
        path = (root / source).resolve()
    except (OSError, RuntimeError, ValueError):
        raise ChalcedonError(f"{shorten(source)} leads nowhere: its links run in a circle.") from None
    if not path.is_relative_to(root):
        raise ChalcedonError(
            f"{shorten(source)} lies outside the scene's folder.", hint="Put it beside the scene, or embed it."
        )
    return path


@contextmanager
def _reading(data: bytes, name: str) -> Iterator[PIL.Image.Image]:
    """An image whose head has been read. What goes wrong inside is said in a sentence."""
    from PIL import Image, UnidentifiedImageError

    try:
        with warnings.catch_warnings():  # sizes are judged here
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            opened = Image.open(io.BytesIO(data), formats=FORMATS)
        with opened as image:
            width, height = image.size
            if width * height > LARGEST:
                raise ChalcedonError(
                    f"{name} has {width} x {height} px.", hint=f"Up to {LARGEST // 10**6} million px are shown."
                )
            yield image
    except UnidentifiedImageError:
        raise ChalcedonError(f"{name} is not a PNG, JPEG, WebP or GIF image.") from None
    except Image.DecompressionBombError:
        raise ChalcedonError(f"{name} is far too large.", hint=f"Up to {LARGEST // 10**6} million px.") from None
    except ChalcedonError:
        raise
    except (OSError, ValueError, SyntaxError, MemoryError, OverflowError, struct.error, KeyError, TypeError) as error:
        raise ChalcedonError(f"{name} is damaged: {error}.") from None


def _decode(data: bytes, name: str, halvings: int = 0) -> np.ndarray:
    import numpy as np
    from PIL.Image import Transpose

    turns = {
        2: Transpose.FLIP_LEFT_RIGHT, 3: Transpose.ROTATE_180, 4: Transpose.FLIP_TOP_BOTTOM, 5: Transpose.TRANSPOSE,
        6: Transpose.ROTATE_270, 7: Transpose.TRANSVERSE, 8: Transpose.ROTATE_90,
    }  # fmt: skip
    with _reading(data, name) as image:
        factor = 2**halvings
        width, height = image.size
        turn = turns.get(_orientation(image))
        if factor > 1:
            image.draft(None, (max(1, width // factor), max(1, height // factor)))
        image.load()
        small: PIL.Image.Image = image
        factor = factor * image.size[0] // max(1, width)  # what the decoder has left to do
        if factor > 1:
            # colours are averaged by how opaque they are
            if image.mode in ("RGB", "L", "CMYK", "YCbCr") and "transparency" not in image.info:
                small = image.convert("RGB").reduce(factor)
            else:
                small = image.convert("RGBA").convert("RGBa").reduce(factor).convert("RGBA")
        turned = small if turn is None else small.transpose(turn)
        return np.asarray(turned.convert("RGBA"))


def embed(path: str | os.PathLike[str]) -> str:
    """A data URL that holds the image of a file. Raises ChalcedonError when it isn't one that is shown."""
    file = Path(path)
    data = _contents(file)
    kind = SUFFIXES.get(file.suffix.lower(), "png")
    return embedded(data, kind)


def embedded(data: bytes, kind: str) -> str:
    """A data URL of the bytes of an image; `kind` as in its MIME type."""
    return f"data:image/{kind};base64,{base64.b64encode(data).decode()}"


def fitted(box: Box, width: float, height: float, fit: str) -> Box:
    """Where an image of a size goes in a box (CSS Images 3, section 5.5: object-fit, centred)."""
    w, h = box[2] - box[0], box[3] - box[1]
    iw, ih = float(width), float(height)
    if fit in ("contain", "scale-down"):
        k = min(w / width, h / height)
        k = min(k, 1.0) if fit == "scale-down" else k
        iw, ih = width * k, height * k
    elif fit == "cover":
        k = max(w / width, h / height)
        iw, ih = width * k, height * k
    elif fit == "fill":
        iw, ih = w, h
    left, top = box[0] + (w - iw) / 2, box[1] + (h - ih) / 2
    return left, top, left + iw, top + ih


def natural_size(pixels: tuple[int, int], within: tuple[float, float]) -> tuple[float, float]:
    """The size at which a picture is placed: a scene px each of its own, or smaller if it would be larger than that."""
    width, height = pixels
    factor = min(1.0, within[0] / width, within[1] / height)
    return tidy(width * factor, 2), tidy(height * factor, 2)


def size_naturally(image: Image, within: tuple[float, float] = (math.inf, math.inf)) -> None:
    """Gives an image the size of its picture, a scene px each px of it, or smaller with a limit. Raises ChalcedonError,
    as `image_size` does; a file is looked for beside the scene that the image is in."""
    folder = image.scene.folder if image.scene is not None else None
    image.size = natural_size(image_size(image.source, folder), within)


def source_for(path: str | os.PathLike[str], folder: str | None) -> str:
    """How a scene in `folder` names an image file: by a link when it lies in the folder, else embedded. Raises
    ChalcedonError when it isn't an image that is shown."""
    try:
        file = Path(path).resolve()
        root = None if folder is None else Path(folder).resolve()
    except (OSError, RuntimeError, ValueError):
        raise ChalcedonError(f"{shorten(str(path))} leads nowhere: its links run in a circle.") from None
    if root is not None and file.is_relative_to(root):
        _contents(file)
        return file.relative_to(root).as_posix()
    return embed(file)


def _contents(file: Path) -> bytes:
    """The bytes of an image file, read through to its end."""
    try:
        if file.stat().st_size > HEAVIEST:
            raise ChalcedonError(f"{shorten(file.name)} is larger than {HEAVIEST // 2**20} MB.")
        data = file.read_bytes()
    except (OSError, ValueError) as error:
        raise ChalcedonError(f"{shorten(file.name)} can't be read: {getattr(error, 'strerror', error)}.") from None
    _decode(data, shorten(file.name), 3)
    return data
