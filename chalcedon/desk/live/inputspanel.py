"""All inputs of the scene: made here, named, given limits, ordered, and set."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import Any

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QWidget

from chalcedon.desk.ledger.parts import show
from chalcedon.desk.live.controls import Control, Hand, make_control
from chalcedon.desk.looks.buttons import Button, ToolButton
from chalcedon.desk.looks.plain import Label, set_tip
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.panels.panel import Panel
from chalcedon.desk.session import Session
from chalcedon.evaluate.kept import formulas_at
from chalcedon.evaluate.users import users_of_name
from chalcedon.formula import Formula, calculate
from chalcedon.formula.syntax import looks_like_formula
from chalcedon.scene.inputs import Input
from chalcedon.scene.values import LIMIT

NEW: dict[str, dict[str, Any]] = {
    "number": {"value": 0.5, "low": 0, "high": 1},
    "switch": {"value": False},
    "choice": {"value": "one", "choices": ("one", "two", "three")},
    "colour": {"value": "#d97b4a"},
    "text": {"value": "quay"},
    "point": {"value": (480, 300)},
}
"""What a new input of each kind begins as."""
COLUMNS = ("name", "", "from", "to", "step", "unit", "label", "group", "", "")


class InputsPanel(Panel):
    """A popup with a row an input. Everything in it is an undo step."""

    def __init__(self, session: Session, hand: Hand, owner: QWidget) -> None:
        super().__init__("Inputs", session, owner)
        self._hand = hand
        self._shown: Any = None
        self._texts: list[str] = []
        self.empty = Label(
            "No inputs yet. An input is a named value that a person or a program sets;\n"
            "formulas read it by its name, so that one control can move many things."
        )
        self.column.addWidget(self.empty)
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(6)
        self.grid.setVerticalSpacing(4)
        self.column.addLayout(self.grid)
        self.column.addWidget(self.complaint)
        self.column.addWidget(self.unsolved)
        foot = QHBoxLayout()
        foot.setSpacing(4)
        word = Label("New")
        foot.addWidget(word)
        self.add: dict[str, Button] = {}
        for kind in NEW:
            button = self.add[kind] = Button(kind)
            button.setAccessibleName(f"New input: {kind}")
            button.clicked.connect(partial(self.make, kind))
            foot.addWidget(button)
        foot.addStretch()
        self.column.addLayout(foot)

    def restyle(self) -> None:
        super().restyle()
        self.empty.setStyleSheet(f"color: {theme().muted};")

    def refresh(self) -> None:
        """Shows the inputs as they are now."""
        specs = self.session.scene.inputs.specs()
        told = tuple(s._replace(value=None) for s in specs)
        if told != self._shown or self._typed() != self._texts:  # what could not be taken doesn't stay
            self._shown = told
            self.remake(self.grid, lambda: self._rows(specs))
            self._texts = self._typed()
        for name, row in self.rows.items():
            row["control"].show_value(self.session.display.input(name))
            self._tell_users(name, row["used"])
        self.empty.setVisible(not self.rows)
        self.complaint.setVisible(bool(self.complaint.text()))
        self.tell_unsolved("\n".join(self._unsolved(specs)))
        self.fit_in()

    def _unsolved(self, specs: Sequence[Input]) -> list[str]:
        cell = formulas_at(self.session.scene, "inputs")
        limits = [(s.name, what, getattr(s, what)) for s in specs for what in ("low", "high")] if cell else []
        found = [(name, what, cell.problem_with(v)) for name, what, v in limits if cell and isinstance(v, Formula)]
        return [f"{what} of {name} can't be worked out: {problem}" for name, what, problem in found if problem][:3]

    def _typed(self) -> list[str]:
        return [part.text() for row in self.rows.values() for part in row.values() if isinstance(part, QLineEdit)]

    def _rows(self, specs: Sequence[Input]) -> None:
        for column, title in enumerate(COLUMNS if specs else ()):
            head = Label(title)
            head.setFont(font(12))
            head.setStyleSheet(f"color: {theme().muted};")
            self.grid.addWidget(head, 0, column)
        for i, spec in enumerate(specs):
            self._row(i + 1, spec, i == 0)

    def _row(self, i: int, spec: Input, first: bool) -> None:
        name = spec.name
        entries: dict[str, QLineEdit] = {}
        control: Control = make_control(spec._replace(label=" "), self._hand._replace(put=self._give))
        control.title.hide()
        shown = {
            "name": (name, 96),
            "low": (_limit(spec.low), 62),
            "high": (_limit(spec.high), 62),
            "step": ("" if spec.step is None else show(spec.step), 44),
            "unit": (spec.unit, 44),
            "label": (spec.label, 84),
            "group": (spec.group, 84),
        }
        for what, (text, width) in shown.items():
            entry = entries[what] = QLineEdit(text, self)  # shown without a place it would be a window of its own
            entry.setCursorPosition(0)
            entry.setAccessibleName(f"{what} of {name}")
            entry.setFixedWidth(width)
            entry.editingFinished.connect(partial(self._say, name, what, entry))
            if what == "name":
                control.setParent(self)  # so Tab goes from left to right
        if spec.kind == "choice":
            entries["low"].setText(", ".join(spec.choices))
            entries["low"].setCursorPosition(0)
            entries["low"].setFixedWidth(130)
            entries["low"].setAccessibleName(f"choices of {name}")
            set_tip(entries["low"], "The words to choose from, with commas between")
        for what in ("low", "high", "step", "unit"):
            entries[what].setVisible(spec.kind == "number" or (what == "low" and spec.kind == "choice"))
        used = Button()
        used.clicked.connect(partial(self._select, name))
        up, away = ToolButton(), ToolButton()
        up.setText("↑")
        up.setEnabled(not first)
        up.setAccessibleName(f"{name} one place earlier")
        up.clicked.connect(partial(self._earlier, name))
        away.setText("×")
        away.setAccessibleName(f"Delete the input {name}")
        set_tip(away, "What reads it gets its value as it is now")
        away.clicked.connect(partial(self._remove, name))
        marks = QWidget()
        row = QHBoxLayout(marks)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(2)
        row.addWidget(up)
        row.addWidget(away)
        self.grid.addWidget(entries["name"], i, 0)
        self.grid.addWidget(control, i, 1)
        if spec.kind == "choice":
            self.grid.addWidget(entries["low"], i, 2, 1, 4)
        else:
            for column, what in enumerate(("low", "high", "step", "unit"), 2):
                self.grid.addWidget(entries[what], i, column)
        for column, widget in enumerate((entries["label"], entries["group"], used, marks), 6):
            self.grid.addWidget(widget, i, column)
        for widget in (entries["name"], entries["label"], entries["group"], control, used, marks):
            widget.show()
        self.rows[name] = {**entries, "control": control, "used": used, "up": up, "remove": away}

    def _tell_users(self, name: str, button: Button) -> None:
        users = users_of_name(self.session.scene, name)
        button.setText(f"used by {len(users)}" if users else "not used")
        button.setEnabled(bool(users))
        set_tip(button, ", ".join(f"{u.id}.{u.name}" if u.id else f"scene.{u.name}" for u in users[:30]))

    # acts

    def _give(self, name: str, value: Any, gesture: object = None) -> None:
        self._hand.put(name, value, gesture)
        self.refresh()

    def make(self, kind: str) -> None:
        """Makes an input of a kind, and lets it be named."""
        scene = self.session.scene
        name = scene.free_id(kind)
        said = dict(NEW[kind])
        self.attempt(lambda: scene.inputs.add(name, said.pop("value"), kind, **said))
        self.name(name)

    def name(self, name: str) -> None:
        """Puts the name of an input into focus, to be written over."""
        if name in self.rows:
            self.rows[name]["name"].setFocus()
            self.rows[name]["name"].selectAll()

    def _say(self, name: str, what: str, entry: QLineEdit) -> None:
        inputs = self.session.scene.inputs
        if name not in inputs:
            return
        text, spec = entry.text().strip(), inputs.spec(name)
        if what == "name":
            if text != name:
                self.attempt(lambda: inputs.rename(name, text))
            return
        if what == "low" and spec.kind == "choice":
            words = tuple(w.strip() for w in text.split(",") if w.strip())
            value = spec.value if spec.value in words else (words[0] if words else "")
            if words != spec.choices:
                self.attempt(lambda: inputs.change(name, choices=words, value=value))
            return
        if what in ("low", "high", "step"):
            if text != (
                _limit(getattr(spec, what)) if what != "step" else "" if spec.step is None else show(spec.step)
            ):
                self.attempt(lambda: inputs.change(name, **{what: _typed(text, what)}))
            return
        if text != getattr(spec, what):
            self.attempt(lambda: inputs.change(name, **{what: text}))

    def _select(self, name: str) -> None:
        self.close()
        scene = self.session.scene
        ids = dict.fromkeys(u.id for u in users_of_name(scene, name) if u.id)
        self.session.select(scene[id] for id in ids)

    def _earlier(self, name: str) -> None:
        inputs = self.session.scene.inputs
        self.attempt(lambda: inputs.move(name, list(inputs).index(name) - 1))

    def _remove(self, name: str) -> None:
        from chalcedon.evaluate.users import let_go_of

        self.attempt(lambda: let_go_of(self.session.scene, name))

    def open_at(self, spot: QPoint) -> None:
        """Opens upward from a place on the screen."""
        self.show_at(spot - QPoint(0, self.sizeHint().height()))
        self.move(self.x(), spot.y() - self.height())
        first = next(iter(self.rows.values()), None)
        (first["name"] if first else self.add["number"]).setFocus()


def _limit(value: Any) -> str:
    if value is None:
        return ""
    return value.text if isinstance(value, Formula) else show(value)


def _typed(text: str, what: str) -> Any:
    """A limit or a step as it was typed: empty for none, a number, or for limits a formula."""
    if not text:
        return None
    if what != "step" and looks_like_formula(text):
        return Formula(text, -LIMIT if what == "low" else LIMIT)
    return calculate(text)
