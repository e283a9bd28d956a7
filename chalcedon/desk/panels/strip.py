"""The strip above the canvas: kinds to make, the paint of the next shape, zoom."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QPoint, QSize, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QButtonGroup, QFrame, QHBoxLayout, QMenu, QSizePolicy, QWidget

from chalcedon.desk.canvas.widget import Canvas
from chalcedon.desk.looks.buttons import ToolButton
from chalcedon.desk.looks.chips import draw_chip, palette_of
from chalcedon.desk.looks.glyphs import icon
from chalcedon.desk.looks.plain import Label, set_tip
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.panels.panel import dispose
from chalcedon.desk.picker.colorpicker import ColorPicker
from chalcedon.desk.session import Session
from chalcedon.scene.shapes import KINDS, MADE
from chalcedon.scene.tidy import article
from chalcedon.view.guarded import Guarded

TOOLS = (*MADE, "freehand")
"""What has a button, beside the one that selects."""
KEYS = {"": "V", **{kind: KINDS[kind].key for kind in MADE}, "freehand": "J"}


class _KindButton(Guarded, ToolButton):
    doubled = Signal()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.doubled.emit()


class PaintChip(Guarded, ToolButton):
    """A paint that opens a picker."""

    def __init__(self, session: Session, name: str) -> None:
        super().__init__()
        self.session, self.name = session, name
        self.picker: ColorPicker | None = None
        self.setFixedSize(24, 24)
        self.setAccessibleName(f"Next shape's {name}")
        set_tip(self, f"The {name} that the next shape gets")
        self.clicked.connect(self._pick)
        session.next_paint_changed.connect(self.update)

    @property
    def value(self) -> Any:
        return self.session.next_fill if self.name == "fill" else self.session.next_stroke

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        draw_chip(
            painter,
            4,
            4,
            self.value,
            self.name == "stroke",
            self.hasFocus() or self.underMouse(),
            palette_of(self.session.scene),
        )
        painter.end()

    def _pick(self) -> None:
        dispose(self.picker)
        self.picker = ColorPicker(self, self.session.scene, self.value, f"{self.name} of the next shape")
        self.picker.picked.connect(lambda color: self.session.set_next(self.name, color))
        self.picker.named.connect(self.session.set_palette)
        self.picker.open_at(self.mapToGlobal(QPoint(0, self.height() + 4)))


class Strip(Guarded, QWidget):
    def __init__(self, session: Session, canvas: Canvas) -> None:
        super().__init__()
        self.session, self.canvas = session, canvas
        self.setFixedHeight(40)
        self.buttons: dict[str, _KindButton] = {}
        group = QButtonGroup(self)
        self._row = layout = QHBoxLayout(self)
        layout.setContentsMargins(12, 0, 16, 0)
        layout.setSpacing(3)
        for kind in ("", *TOOLS):
            button = _KindButton()
            button.setCheckable(True)
            button.setIconSize(QSize(22, 22))
            name = kind or "select"
            what = "Draw freehand" if kind == "freehand" else f"Make {article(kind)}" if kind else "Select and move"
            set_tip(button, f"{what} ({KEYS[kind]})" + (" · double-click to make several" if kind else ""))
            button.setAccessibleName(what)
            button.clicked.connect(lambda _=False, k=kind: canvas.set_kind(k))
            button.doubled.connect(lambda k=kind: canvas.set_kind(k, lock=True))
            group.addButton(button)
            layout.addWidget(button)
            self.buttons[kind] = button
            button.setProperty("glyph", name)
            if not kind:
                layout.addWidget(_rule())
        self._add_more(layout)
        layout.addWidget(_rule())
        self.next = Label("next shape")
        layout.addSpacing(4)
        layout.addWidget(self.next)
        layout.addSpacing(3)
        self.fill, self.stroke = PaintChip(session, "fill"), PaintChip(session, "stroke")
        layout.addWidget(self.fill)
        layout.addWidget(self.stroke)
        self.into = Label("")
        # takes what room there is, and asks for none: the ledger must not move when a group is selected
        self.into.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        layout.addSpacing(8)
        layout.addWidget(self.into, 1)
        self._add_zoom(layout, group)
        canvas.tool_switched.connect(self._switched)
        canvas.view_changed.connect(self._zoomed)
        session.selection_changed.connect(self._tell_into)
        self.restyle()
        self._switched("")
        self._zoomed()

    # what there is room for

    def minimumSizeHint(self) -> QSize:
        return QSize(230, self.height())

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._fit()

    def _fit(self) -> None:
        """Shows what fits, the kinds first; what doesn't is in the menu of the button with the dots."""
        margins = self._row.contentsMargins()
        gap = self._row.spacing()
        room = self.width() - margins.left() - margins.right() - 20

        def takes(*parts: QWidget) -> int:
            return sum(p.sizeHint().width() + gap for p in parts)

        room -= takes(self.buttons[""], self.fill, self.stroke, self.zoom, self.fit) + 24
        kinds = [self.buttons[k] for k in TOOLS]
        rest = [self.measure, self.next, self.into]  # the words can be done without
        whole = takes(*kinds, self.measure) <= room
        if not whole:
            room -= takes(self.more)
        shown: list[QWidget] = []
        used = next((b for b in kinds if b.isChecked()), None)  # the one in use is always in sight
        for part in [*([used] if used is not None else []), *(k for k in kinds if k is not used), *rest]:
            if takes(*shown, part) <= room:
                shown.append(part)
        for part in (*kinds, *rest):
            part.setVisible(part in shown and (part is not self.into or bool(self.into.text())))
        self.more.setVisible(not whole)

    def _fill_more(self) -> None:
        """The menu of what is hidden."""
        self.more_menu.clear()
        for kind in TOOLS:
            if self.buttons[kind].isHidden():
                action = self.more_menu.addAction(icon(kind, theme().ink), article(kind).split(" ", 1)[1])
                action.setShortcut(KEYS[kind])
                action.triggered.connect(lambda _=False, k=kind: self.canvas.set_kind(k))
        if self.measure.isHidden():
            self.more_menu.addSeparator()
            self.more_menu.addAction("measure between points").triggered.connect(lambda _=False: self.canvas.measure())

    def _add_more(self, layout: QHBoxLayout) -> None:
        self.more = ToolButton()
        self.more.setText("…")
        set_tip(self.more, "What there is no room for")
        self.more.setAccessibleName("More kinds of shape")
        self.more.setPopupMode(ToolButton.ToolButtonPopupMode.InstantPopup)
        self.more_menu = QMenu(self.more)
        self.more_menu.aboutToShow.connect(self._fill_more)
        self.more.setMenu(self.more_menu)
        layout.addWidget(self.more)

    def _add_zoom(self, layout: QHBoxLayout, group: QButtonGroup) -> None:
        self.measure = ToolButton()
        self.measure.setText("measure")
        self.measure.setCheckable(True)
        set_tip(self.measure, "Measure between points (D)")
        self.measure.setAccessibleName("Measure between points")
        self.measure.clicked.connect(self.canvas.measure)
        group.addButton(self.measure)
        layout.addWidget(self.measure)
        self.zoom = ToolButton()
        set_tip(self.zoom, "Zoom to 100 % (1)")
        self.zoom.setAccessibleName("Zoom to 100 %")
        self.zoom.clicked.connect(lambda: self.canvas.zoom_to(1.0))
        self.fit = ToolButton()
        self.fit.setText("fit")
        set_tip(self.fit, "Show the whole page (0)")
        self.fit.setAccessibleName("Fit the page")
        self.fit.clicked.connect(self.canvas.fit)
        layout.addWidget(self.zoom)
        layout.addWidget(self.fit)

    def restyle(self) -> None:
        t = theme()
        for button in self.buttons.values():
            button.setIcon(icon(button.property("glyph"), t.ink))
        for label in (self.next, self.into):
            label.setStyleSheet(f"color: {t.muted}")
            label.setFont(font())

    def _switched(self, kind: str) -> None:
        (self.measure if kind == "measure" else self.buttons[kind]).setChecked(True)
        self._fit()
        self._tell_into()

    def _zoomed(self) -> None:
        zoom = self.canvas.view.zoom * 100
        self.zoom.setText(f"{zoom:.0f} %" if zoom >= 10 else f"{zoom:.1f} %")
        self._fit()

    def _tell_into(self) -> None:
        group = self.canvas.target_group()
        text = f"goes into {group.id}" if group.id else ""
        if text != self.into.text():
            self.into.setText(text)
            self._fit()
        set_tip(self.into, text)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme().color("panel"))
        painter.setPen(theme().color("line"))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
        painter.end()


def _rule() -> QFrame:
    rule = QFrame()
    rule.setFrameShape(QFrame.Shape.VLine)
    rule.setFixedHeight(22)
    rule.setFrameShadow(QFrame.Shadow.Plain)
    rule.setStyleSheet("color: #B9B4AA")
    rule.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    return rule
