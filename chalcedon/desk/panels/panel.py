"""What the small panels have in common: a popup with a title, a place for complaints, kept on the screen."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import shiboken6
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QAbstractButton, QApplication, QFrame, QLabel, QLayout, QVBoxLayout, QWidget

from chalcedon.desk.looks.plain import Label
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.session import Session
from chalcedon.problems import ChalcedonError
from chalcedon.view.guarded import Guarded


class Popup(Guarded, QFrame):
    """A frame that closes when something else is clicked. It is made once, or given to `dispose` before the next of its
    kind is made: what it holds refers back to it, so that nothing else would ever free it."""

    def __init__(self, name: str, owner: QWidget) -> None:
        super().__init__(owner.window(), Qt.WindowType.Popup)  # so that it goes with its window
        self.setObjectName("popup")
        self.setAccessibleName(name)

    def restyle(self) -> None:
        """Takes the colours of the theme."""
        t = theme()
        self.setStyleSheet(f"QFrame#popup {{ background: {t.panel}; border: 1px solid {t.line}; }}")

    def show_at(self, spot: QPoint) -> None:
        """Shows the popup with its corner at a screen point, kept on the screen."""
        self.restyle()
        self.move(spot)
        self.fit_in()
        self.show()

    def fit_in(self) -> None:
        """Takes the size that what is in it needs, and stays on the screen."""
        layout = self.layout()
        if layout is not None:
            layout.activate()
        self.adjustSize()
        screen, size = self.screen().availableGeometry(), self.size()
        self.move(
            max(screen.left(), min(self.x(), screen.right() - size.width())),
            max(screen.top(), min(self.y(), screen.bottom() - size.height())),
        )


def dispose(popup: Popup | None) -> None:
    """Closes a popup and deletes it now. Not to be called by anything that the popup itself has called."""
    if popup is not None and shiboken6.isValid(popup):
        popup.close()
        shiboken6.delete(popup)


def emptied(layout: QLayout) -> None:
    """Takes the widgets out of a layout; they go when the event loop is back."""
    while (item := layout.takeAt(0)) is not None:
        if (widget := item.widget()) is not None:
            widget.blockSignals(True)  # a field that goes with the keyboard on it is not finished by that
            widget.hide()
            widget.deleteLater()


class Panel(Popup):
    """A popup that changes the scene. Problems are said in it, where they are looked at."""

    def __init__(self, title: str, session: Session, owner: QWidget) -> None:
        super().__init__(title, owner)
        self.session = session
        self.rows: dict[str, dict[str, Any]] = {}
        """The fields and buttons of what has a name, by what they are."""
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(12, 10, 12, 12)
        self.column.setSpacing(6)
        self.head = Label(title)
        self.head.setFont(font(15, bold=True))
        self.column.addWidget(self.head)
        self.complaint = Label("")
        self.unsolved = Label("")
        """A formula in it that can't be worked out; its last value holds."""
        for label in (self.complaint, self.unsolved):
            label.setWordWrap(True)
            label.setParent(self)  # also where a panel has no place for it
            label.hide()

    def restyle(self) -> None:
        super().restyle()
        for label in (self.complaint, self.unsolved):
            label.setStyleSheet(f"color: {theme().carnelian};")

    def tell_unsolved(self, sentence: str) -> None:
        """Says it, or that there is none, beside what is complained of."""
        self.unsolved.setText(sentence)
        self.unsolved.setVisible(bool(sentence))

    def refresh(self) -> None:
        """Shows what is so now."""
        raise NotImplementedError

    def remake(self, grid: QLayout, make: Callable[[], object]) -> None:
        """Makes the rows anew. The keyboard is on the same field of the same row after it."""
        focus = QApplication.focusWidget()
        fields = [(i, what, part) for i, row in enumerate(self.rows.values()) for what, part in row.items()]
        held = next(((i, what) for i, what, part in fields if part is focus), None)
        emptied(grid)
        self.rows.clear()
        make()
        rows = list(self.rows.values())
        if held is not None and rows:
            rows[min(held[0], len(rows) - 1)][held[1]].setFocus(Qt.FocusReason.TabFocusReason)

    def show_at(self, spot: QPoint) -> None:
        """Shows the panel as things are now, without the complaint of before."""
        self.complaint.setText("")
        self.refresh()
        super().show_at(spot)

    def show_measure(self, say: Callable[[], str], label: QLabel, button: QAbstractButton) -> None:
        """Shows how large what is wanted comes to, as `say` gives it; or why it can't be, without the button for it."""
        try:
            label.setText(say())
            wrong = ""
        except ChalcedonError as problem:
            label.setText("")
            wrong = problem.sentence
        self.complaint.setText(wrong)
        self.complaint.setVisible(bool(wrong))
        button.setEnabled(not wrong)

    def attempt(self, act: Callable[[], object], other: bool = True) -> None:
        """Does something, unless what was typed is no `other` than before; a problem is said until the next time."""
        self.complaint.setText("")
        try:
            if other:
                act()
        except ChalcedonError as problem:
            self.complaint.setText(problem.sentence)
        self.session.flush()
        self.refresh()
