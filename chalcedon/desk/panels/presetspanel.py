"""The presets of the scene: what each says, who wears it, and changes that go to all of them."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QWidget

from chalcedon.desk.looks.buttons import Button, ToolButton
from chalcedon.desk.looks.plain import Label, set_tip
from chalcedon.desk.looks.theme import theme
from chalcedon.desk.panels.panel import Panel
from chalcedon.desk.session import Session
from chalcedon.scene import presets
from chalcedon.source.settings import parse_settings, print_settings


class PresetsPanel(Panel):
    """A popup with a row a preset: name, what it says as a line, users, wear, ×. Everything in it is an undo step."""

    def __init__(self, session: Session, owner: QWidget) -> None:
        super().__init__("Presets", session, owner)
        self._shown: Any = None
        self.empty = Label(
            "No presets yet. A preset is paint or text with a name;\n"
            "what wears it follows it, so a change here changes them all."
        )
        self.column.addWidget(self.empty)
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(8)
        self.grid.setVerticalSpacing(4)
        self.column.addLayout(self.grid)
        self.column.addWidget(self.complaint)
        foot = QHBoxLayout()
        self.gather = Button("Make one of the selected shape")
        set_tip(self.gather, "Its paint, and of a text its font as well")
        self.gather.clicked.connect(lambda: self._gather(False))
        self.text_only = Button("Of its font alone")
        self.text_only.clicked.connect(lambda: self._gather(True))
        for button in (self.gather, self.text_only):
            foot.addWidget(button)
        foot.addStretch()
        self.column.addLayout(foot)

    def restyle(self) -> None:
        super().restyle()
        self.empty.setStyleSheet(f"color: {theme().muted};")

    def refresh(self) -> None:
        """Shows the presets as they are now."""
        pairs = self.session.scene.presets
        names = [row["name"].text() for row in self.rows.values()]
        if pairs != self._shown or names != [name for name, _ in pairs]:  # a name that could not be taken doesn't stay
            self._shown = pairs
            self.remake(self.grid, lambda: self._rows(pairs))
        chosen = presets.able(self.session.selection)
        for name, row in self.rows.items():
            worn = presets.wearers(self.session.scene, name)
            row["used"].setText(f"worn by {len(worn)}" if worn else "not worn")
            row["used"].setEnabled(bool(worn))
            set_tip(row["used"], ", ".join(s.id for s in worn[:30]))
            all_wear = bool(chosen) and all(name in s.stated("wears") for s in chosen)
            row["wear"].setText("take off" if all_wear else "wear")
            row["wear"].setEnabled(bool(chosen))
        self.empty.setVisible(not self.rows)
        self.gather.setEnabled(bool(chosen))
        self.text_only.setVisible(bool(chosen) and chosen[-1].kind == "text")
        self.complaint.setVisible(bool(self.complaint.text()))
        self.fit_in()

    def _rows(self, pairs: tuple[tuple[str, Any], ...]) -> None:
        for i, (name, values) in enumerate(pairs):
            self._row(i, name, dict(values))

    def _row(self, i: int, name: str, values: dict[str, Any]) -> None:
        title, text = QLineEdit(name), QLineEdit(print_settings(values))
        for entry, what, width in ((title, "Name", 110), (text, "Values", 330)):
            entry.setAccessibleName(f"{what} of the preset {name}")
            entry.setFixedWidth(width)
            entry.setCursorPosition(0)
        set_tip(text, "Paint and text as in a line: fill #c9a227 stroke black 2 · family 'Source Sans Pro' size 20")
        title.editingFinished.connect(lambda: self._rename(name, title.text().strip()))
        text.editingFinished.connect(lambda: self._change(name, text.text()))
        used, wear, away = Button(), Button(), ToolButton()
        used.clicked.connect(lambda: self._select(name))
        used.setAccessibleName(f"Select what wears {name}")
        wear.clicked.connect(lambda: self._wear(name))
        wear.setAccessibleName(f"The selected shapes wear {name}, or take it off")
        away.setText("×")
        away.setAccessibleName(f"Take the preset {name} away")
        set_tip(away, "What wears it keeps its values as its own")
        away.clicked.connect(lambda: self.attempt(lambda: presets.remove(self.session.scene, name)))
        for column, widget in enumerate((title, text, wear, used, away)):
            self.grid.addWidget(widget, i, column)
            widget.show()  # now, not when the layout comes to it: it may be given the focus
        self.rows[name] = {"name": title, "text": text, "used": used, "wear": wear, "remove": away}

    # acts

    def _rename(self, old: str, new: str) -> None:
        if old in dict(self.session.scene.presets):
            self.attempt(lambda: presets.rename(self.session.scene, old, new), old != new)

    def _change(self, name: str, text: str) -> None:
        scene, known = self.session.scene, dict(self.session.scene.presets)
        if name in known:
            other = text != print_settings(dict(known[name]))
            self.attempt(lambda: presets.change(scene, name, parse_settings(text, presets.preset(scene, name))), other)
            wrong = bool(self.complaint.text())  # the line stays to be put right
            self.rows[name]["text"].setStyleSheet(f"color: {theme().carnelian};" if wrong else "")

    def _wear(self, name: str) -> None:
        chosen = presets.able(self.session.selection)
        act = presets.take_off if all(name in s.stated("wears") for s in chosen) else presets.wear
        self.attempt(lambda: act(self.session.scene, chosen, name))

    def _select(self, name: str) -> None:
        self.close()
        self.session.select(presets.wearers(self.session.scene, name))

    def _gather(self, text_only: bool) -> None:
        chosen = presets.able(self.session.selection)
        if not chosen:
            return
        shape, scene = chosen[-1], self.session.scene
        name = shape.id
        while name in dict(scene.presets):
            name += "_2"
        self.attempt(lambda: presets.make(scene, name, shape, presets.TEXT if text_only else ()))
        if name in self.rows:
            self.rows[name]["name"].setFocus()
            self.rows[name]["name"].selectAll()

    def open_at(self, spot: QPoint) -> None:
        """Opens it there, as things are now."""
        self._shown = None  # what was typed and refused is not kept for the next time
        self.show_at(spot)
        self.gather.setFocus()
