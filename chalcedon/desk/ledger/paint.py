"""How rows and cells look."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from chalcedon.desk.ledger.cells import LINE, PAD, ROW, VALUES, Cell
from chalcedon.desk.ledger.curvecell import draw_curve
from chalcedon.desk.looks.chips import draw_chip, palette_of
from chalcedon.desk.looks.glyphs import glyph
from chalcedon.desk.looks.lettering import write
from chalcedon.desk.looks.theme import font, theme
from chalcedon.scene.paints import PAINT, resolve


def draw_cell(painter: QPainter, cell: Cell, y: float, hot: bool, focused: bool) -> None:
    """One cell of a row whose top is at `y`."""
    t, top = theme(), y + cell.y
    if cell.role in VALUES:
        _draw_value(painter, cell, top, hot)
    elif cell.role in WORDS:
        color, size, style = WORDS[cell.role]
        color = "ink" if hot and cell.role == "offer" else color
        write(painter, cell.x, top, cell.h, cell.text, t.color(color), size, **style)
        if hot and cell.role in UNDERLINED:
            base = top + cell.h - (7 if cell.h == ROW else 4)
            painter.fillRect(QRectF(cell.x, base, cell.w, 1), t.color(color))
    else:
        _draw_mark(painter, cell, QRectF(cell.x, top, cell.w, cell.h), hot)
    if focused:
        painter.setPen(QPen(t.color("carnelian"), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        small = cell.h < ROW  # a word of the quiet line
        pad, slack = (3, 1) if small else (1, 4)
        painter.drawRoundedRect(QRectF(cell.x - pad, top + slack, cell.w + pad + 3 * small, cell.h - 2 * slack), 3, 3)


WORDS: dict[str, tuple[str, int, dict[str, bool]]] = {
    "section": ("ink", 14, {"bold": True}),
    "add": ("chrysoprase", 14, {}),
    "more": ("chrysoprase", 14, {}),
    "repair": ("chrysoprase", 14, {}),
    "remark": ("carnelian", 13, {"italic": True}),
    "told": ("chrysoprase", 13, {}),
    "run": ("carnelian", 13, {"italic": True}),
    "word": ("muted", 14, {}),
    "dot": ("muted", 13, {}),
    "offer": ("muted", 13, {}),
}
"""What is only written: colour, size and style."""
UNDERLINED = ("add", "more", "repair", "offer")


def _draw_mark(painter: QPainter, cell: Cell, box: QRectF, hot: bool) -> None:
    t = theme()
    if cell.role == "paint":
        at = box.center()
        look = cell.value, cell.name == "stroke", hot, palette_of(cell.owner)
        draw_chip(painter, at.x() - 8, at.y() - 8, *look)
    elif cell.role == "palette":
        color = resolve(cell.value, {}) or (0, 0, 0, 0)
        painter.setPen(QPen(t.color("ink" if hot else "line"), 1))
        painter.setBrush(QColor(*color))
        painter.drawEllipse(box.center(), 5, 5)
    elif cell.role == "curve":
        draw_curve(painter, cell, box.top() - cell.y)
    elif cell.role == "sentence" and box.height() < 2 * LINE:
        write(painter, box.x(), box.y() + 4, LINE - 3, cell.text, t.color("muted"), 13, italic=True)
    elif cell.role == "sentence":
        painter.setFont(font(13, italic=True))
        painter.setPen(t.color("muted"))
        painter.drawText(box.adjusted(0, 4, 0, 0), Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap, cell.text)
    elif cell.role == "switch":
        _draw_switch(painter, box, cell, hot)
    elif cell.role == "switch-paint":
        draw_mark(painter, box.x() + 1, box.y() + 5, "eye" if cell.value else "closed eye", hot)
    elif cell.role in ("remove", "up"):
        painter.setFont(font())
        painter.setPen(t.color("carnelian") if hot else t.color("muted"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, cell.text)
    elif cell.role in ("typed", "chosen"):
        _draw_found(painter, cell, box)


def _draw_found(painter: QPainter, cell: Cell, box: QRectF) -> None:
    """What is typed, with a caret after it, or what Enter would take of what was found."""
    t = theme()
    if cell.role == "chosen":
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(t.color("sunken"))
        painter.drawRoundedRect(box.adjusted(-4, 1, 4, -1), 3, 3)
    write(painter, box.x(), box.y(), cell.h, cell.text, t.color("ink"), 13)
    if cell.role == "typed":
        painter.fillRect(QRectF(box.right() - 1, box.top() + 3, 1.5, box.height() - 6), t.color("carnelian"))


def _draw_switch(painter: QPainter, box: QRectF, cell: Cell, hot: bool) -> None:
    """The number of a step in a disc, filled while the step is on."""
    t = theme()
    on = cell.value.on
    painter.setPen(QPen(t.color("ink" if hot else "chrysoprase" if on else "muted"), 1.2))
    painter.setBrush(t.color("chrysoprase") if on else Qt.BrushStyle.NoBrush)
    painter.drawEllipse(box.center(), 8, 8)
    painter.setFont(font(12, bold=True))
    painter.setPen(t.color("panel" if on else "muted"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, cell.text)


def _draw_value(painter: QPainter, cell: Cell, top: float, hot: bool) -> None:
    t, formula = theme(), not isinstance(cell.value, float) and bool(PAINT.formulas(cell.value))
    if formula or hot:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(t.color("warn" if cell.wrong else "live" if formula else "sunken"))
        painter.drawRoundedRect(QRectF(cell.x - 2, top + 4, cell.w + 4, cell.h - 8), 3, 3)
    color = "carnelian" if cell.wrong else "chrysoprase" if formula else "ink"
    write(painter, cell.x + PAD, top, cell.h, cell.text, t.color(color), room=cell.w - PAD + 1)
    line = t.color(color if formula else "line")
    painter.fillRect(int(cell.x + PAD), int(top + ROW - 7), int(cell.w - 2 * PAD), 1, line)


def draw_mark(painter: QPainter, x: float, y: float, name: str, strong: bool) -> None:
    t = theme()
    color = t.ink if strong else t.muted
    if name in ("lock", "closed eye", "no pointer", "lost"):
        color = t.carnelian
    painter.drawPixmap(int(x), int(y), glyph(name, color, 18, painter.device().devicePixelRatioF()))
