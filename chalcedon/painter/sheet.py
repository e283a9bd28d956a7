"""Small pictures of scenes, alone and many on one sheet."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from pathlib import Path

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QImage, QPainter, QPen

from chalcedon.files.anything import open_any
from chalcedon.files.safely import write_safely
from chalcedon.painter.export import headless, image_bytes
from chalcedon.painter.fonts import face
from chalcedon.painter.frames import Progress, no_progress
from chalcedon.painter.pictures import KINDS
from chalcedon.painter.render import render_image
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene

GROUND, INK, QUIET, EDGE = QColor("#efede8"), QColor("#22292e"), QColor("#5d6366"), QColor("#c9c4b9")
GAP, WORDS = 24.0, 44.0
"""Px around the pictures, and below each for its name, at scale 1."""
MOST = 400
PX_KINDS = {suffix: kind for suffix, kind in KINDS.items() if kind in ("PNG", "WebP")}


def small_image(scene: Scene, width: float, height: float) -> QImage:
    """The page as large as fits, and not enlarged. Raises ChalcedonError."""
    w, h = scene.size
    # what is made smaller is made at twice the size first, so that thin lines stay visible
    scale = min(1.0, width / w, height / h)
    image = render_image(scene, min(1.0, scale * 2.0))
    size = max(1, round(w * scale)), max(1, round(h * scale))
    return image.scaled(*size, Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation)


def sheet_image(
    files: Sequence[str | Path],
    columns: int = 0,
    cell: float = 320.0,
    progress: Progress = no_progress,
    notes: list[str] | None = None,
) -> QImage:
    """A contact sheet: the pages of scene files in rows, each with its name, page and number of shapes.

    `cell` is px for the width of each; without `columns` the sheet is about as wide as high. A file that can't
    be opened is said in its place, and in `notes`. Raises ChalcedonError."""
    count = len(files)
    if not 0 < count <= MOST:
        raise ChalcedonError(f"a sheet of {count} scenes is not possible.", hint=f"Give 1 to {MOST}.")
    if not 40.0 <= cell <= 2000.0 or columns < 0:
        raise ChalcedonError("that makes no sheet.", hint="Give 40 to 2000 px a picture, and columns from 1.")
    columns = min(count, columns or math.ceil(math.sqrt(count)))
    rows = math.ceil(count / columns)
    high = cell * 0.75
    size = round(columns * (cell + GAP) + GAP), round(rows * (high + WORDS + GAP) + GAP)
    image = QImage(*size, QImage.Format.Format_ARGB32_Premultiplied)
    if max(size) > 30_000 or image.isNull():
        raise ChalcedonError(f"a sheet of {size[0]} x {size[1]} px can't be made.", hint="Give fewer px a picture.")
    image.fill(GROUND)
    painter = QPainter(image)
    for number, (file, spot) in enumerate(zip(files, _spots(columns, cell, high), strict=False)):
        progress(number + 1, count)
        problem = _put(painter, Path(file), spot)
        if problem is not None and notes is not None:
            notes.append(str(problem))
    painter.end()
    return image


def _spots(columns: int, width: float, height: float) -> Iterator[QRectF]:
    row = 0
    while True:
        for column in range(columns):
            yield QRectF(GAP + column * (width + GAP), GAP + row * (height + WORDS + GAP), width, height)
        row += 1


def _put(painter: QPainter, file: Path, spot: QRectF) -> ChalcedonError | None:
    """Paints a scene with its name, or why it can't be opened, which is given."""
    failed = None
    try:
        scene = open_any(file).scene
        picture = small_image(scene, spot.width(), spot.height())
        count, (wide, high) = len(scene), scene.size
        about = f"{wide:g} × {high:g} px, {count} shape{'s' * (count != 1)}"
    except ChalcedonError as problem:
        picture, about, failed = None, problem.message, problem
    if picture is None:
        painter.setPen(QPen(EDGE, 1.0, Qt.PenStyle.DashLine))
        painter.drawRect(spot.adjusted(0.5, 0.5, -0.5, -0.5))
    else:  # they stand on their names, as on a board
        x, y = spot.center().x() - picture.width() / 2, spot.bottom() - picture.height()
        place = QRectF(round(x), round(y), picture.width(), picture.height())
        painter.drawImage(place, picture)
        painter.setPen(QPen(EDGE, 1.0))
        painter.drawRect(place.adjusted(-0.5, -0.5, 0.5, 0.5))
    for text, size, ink, down in ((file.stem, 15, INK, 19.0), (about, 12, QUIET, 37.0)):
        letters = face(size, bold=ink is INK)
        painter.setFont(letters)
        painter.setPen(ink)
        shown = QFontMetricsF(letters).elidedText(text, Qt.TextElideMode.ElideMiddle, spot.width())
        line = QRectF(spot.x(), spot.bottom() + down - 16.0, spot.width(), 22.0)
        painter.drawText(line, Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignVCenter, shown)
    return failed


def write_sheet(
    files: Sequence[str | Path],
    path: str | Path,
    columns: int = 0,
    cell: float = 320.0,
    progress: Progress = no_progress,
) -> list[str]:
    """Writes a contact sheet as a PNG or WebP, by the name. Gives a sentence about each scene that couldn't be opened.
    Raises ChalcedonError."""
    target = Path(path)
    kind = PX_KINDS.get(target.suffix.lower())
    if kind is None:
        raise ChalcedonError("a sheet is a picture of px.", str(path), f"End the name in {' or '.join(PX_KINDS)}.")
    app, notes = headless(), list[str]()
    write_safely(target, image_bytes(sheet_image(files, columns, cell, progress, notes), kind), "picture", backup=False)
    del app
    return notes
