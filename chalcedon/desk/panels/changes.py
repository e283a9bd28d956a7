"""A list of differences: what the last step changed, or what two shapes have in common and not."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QPoint, QSize
from PySide6.QtGui import QCloseEvent
from PySide6.QtWidgets import QHBoxLayout, QWidget

from chalcedon.desk.looks.buttons import Button
from chalcedon.desk.looks.plain import Label, cut
from chalcedon.desk.looks.theme import theme
from chalcedon.desk.panels.differences import DifferenceList
from chalcedon.desk.panels.panel import Panel
from chalcedon.desk.session import Session
from chalcedon.scene import Shape
from chalcedon.scene.net import Change, differences, give
from chalcedon.source.told import Told, tell

Spot = Callable[[QSize], QPoint]
"""Where on the screen a panel of a size is to stand."""


class ChangesPanel(Panel):
    """A popup with a line a difference. Between two shapes, chosen lines are made the same either way."""

    def __init__(self, session: Session, owner: QWidget) -> None:
        super().__init__("What did that change?", session, owner)
        self.pair: tuple[Shape, Shape] | None = None
        self.changes: list[Change] = []
        self.list = DifferenceList(self.go_to)
        self.note = Label("")
        self.note.setWordWrap(True)
        self.forth, self.back = Button(), Button()
        self.forth.clicked.connect(lambda: self._give(0))
        self.back.clicked.connect(lambda: self._give(1))
        row = QHBoxLayout()
        row.addWidget(self.forth)
        row.addWidget(self.back)
        row.addStretch()
        self.column.addWidget(self.list)
        self.column.addWidget(self.note)
        self.column.addLayout(row)
        self.column.addWidget(self.complaint)

    def restyle(self) -> None:
        super().restyle()
        self.note.setStyleSheet(f"color: {theme().muted};")
        self.list.restyle()

    # what is shown

    def show_last(self, spot: Spot) -> None:
        """Lists what the last step changed."""
        last = self.session.document.followed.last
        self.pair = None
        if last is None:
            return
        verb = {"undone": "Took back: ", "redone": "Did again: "}.get(last.what, "")
        self.head.setText(cut(f"{verb}{last.step.name}", 80))
        self.changes = list(last.net.changes(self.session.scene))
        self._fill(["Shape", "What", "Before", "After"], [tell(c, self.session.scene) for c in self.changes])
        self.note.setText("" if self.changes else "It changed nothing that is there now.")
        self._open(spot)

    def show_pair(self, one: Shape, other: Shape, spot: Spot) -> None:
        """Lists what two shapes state differently."""
        self.pair = one, other
        self.session.lay_over(self.pair)
        self.head.setText(cut(f"Same and different: {one.id} and {other.id}", 80))
        self._compare()
        self._open(spot)

    def _compare(self) -> None:
        assert self.pair is not None
        one, other = self.pair
        self.changes = differences(one, other)
        self._fill(["Of", "What", one.id, other.id], [tell(c, one, other) for c in self.changes])
        same = "Both state the same." if not self.changes else ""
        lines = "the chosen lines" if self.changes else ""
        self.note.setText(same or f"The buttons take over {lines}; without any chosen, all but the place.")
        for button, to, of in ((self.forth, other, one), (self.back, one, other)):
            button.setText(cut(f"Make {to.id} like {of.id}", 40))
            button.setEnabled(bool(self.changes))

    def _fill(self, titles: list[str], told: Sequence[Told]) -> None:
        self.list.fill(titles, told)
        self.list.setColumnHidden(0, self.pair is not None and len({t.who for t in told}) < 2)

    def _open(self, spot: Spot) -> None:
        for button in (self.forth, self.back):
            button.setVisible(self.pair is not None)
        self.restyle()
        self.refresh()
        self.layout().activate()  # type: ignore[union-attr]
        self.adjustSize()
        self.show_at(spot(self.size()))
        self.list.setFocus()
        first = self.list.topLevelItem(0)
        if first is not None and self.pair is None:
            self.list.setCurrentItem(first)

    def refresh(self) -> None:
        """Keeps a comparison up to date; what a step changed stays as it was."""
        if self.pair is not None and all(s.scene is self.session.scene for s in self.pair):
            self._compare()
        self.note.setVisible(bool(self.note.text()))
        self.complaint.setVisible(bool(self.complaint.text()))

    # acts

    def go_to(self, number: int) -> None:
        """Selects the shape of a line, and shows the value."""
        change = self.changes[number]
        shape = self.session.scene.get(change.id)
        if shape is None:
            return
        self.close()
        self.session.select([shape])
        if change.name in shape.properties:
            self.session.value_asked.emit(shape, change.name)

    def _give(self, way: int) -> None:
        if self.pair is None or any(s.scene is not self.session.scene for s in self.pair):
            return
        one, other = self.pair if way == 0 else self.pair[::-1]
        chosen = self.list.chosen()
        names = [c.name for i, c in enumerate(self.changes) if (i in chosen if chosen else c.name != "at")]
        self.attempt(lambda: give(one, other, dict.fromkeys(names)))

    def closeEvent(self, event: QCloseEvent) -> None:
        self.session.lay_over(None)
        super().closeEvent(event)
