"""The buttons over the canvas while points are edited."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtWidgets import QHBoxLayout, QWidget

from chalcedon.desk.looks.buttons import ToolButton
from chalcedon.desk.looks.plain import set_tip
from chalcedon.desk.looks.theme import font, theme
from chalcedon.view.guarded import Guarded

if TYPE_CHECKING:
    from chalcedon.desk.canvas.editpoints import PointsTool
    from chalcedon.desk.canvas.widget import Canvas

ACTS = (
    ("smooth", "Smooth", "The outline passes the chosen points without a corner (Shift+S)"),
    ("corner", "Corner", "The chosen points become corners (Shift+C)"),
    ("split", "Split", "Opens the outline at the chosen point, or parts it there (Shift+X)"),
    ("delete", "Delete", "Takes the chosen points away (Delete)"),
    ("close", "Close", "Joins the two ends (Shift+Z)"),
    ("reverse", "Reverse", "Draws the outline the other way round (Shift+R)"),
    ("done", "Done", "Back to selecting (Enter)"),
)


class PointBar(Guarded, QWidget):
    """Stands at the top of the canvas, in the middle."""

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.canvas = canvas
        self.buttons: dict[str, ToolButton] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(6, 4, 6, 4)
        row.setSpacing(2)
        for name, text, tip in ACTS:
            button = ToolButton()
            button.setText(text)
            set_tip(button, tip)
            button.setFont(font())
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # the keys go on working on the points
            button.clicked.connect(lambda _=False, n=name: self._act(n))
            row.addWidget(button)
            self.buttons[name] = button
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        canvas.installEventFilter(self)
        self.hide()

    def show_for(self, tool: PointsTool) -> None:
        self.tool = tool
        t = theme()
        self.setStyleSheet(
            f"PointBar {{ background: {t.panel}; border: 1px solid {t.line}; border-radius: 6px; }}"
            f"QToolButton {{ color: {t.ink}; border: none; border-radius: 4px; padding: 4px 9px; }}"
            f"QToolButton:hover {{ background: {t.sunken}; }}"
        )
        self.adjustSize()
        self._place()
        self.show()
        self.raise_()

    def _place(self) -> None:
        self.move((self.canvas.width() - self.width()) // 2, 34)

    def _act(self, name: str) -> None:
        if name == "done":
            self.canvas.set_kind("")
        elif name in ("close", "reverse"):
            self.canvas.points_asked.emit(name)
        else:
            self.tool.act(name)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Resize and self.isVisible():
            self._place()
        return False
