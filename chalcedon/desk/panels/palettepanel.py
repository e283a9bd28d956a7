"""The palette of the scene: named colours, what uses each, and changes that go to all of it."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QWidget

from chalcedon.desk.looks.buttons import Button, ToolButton
from chalcedon.desk.looks.plain import Label, set_tip
from chalcedon.desk.looks.theme import theme
from chalcedon.desk.panels.panel import Panel, dispose
from chalcedon.desk.picker.colorfields import typed_color
from chalcedon.desk.picker.colorpicker import ColorPicker, chip_icon
from chalcedon.desk.session import Session
from chalcedon.evaluate.kept import formulas_at
from chalcedon.formula import Formula, FormulaProblem
from chalcedon.scene import palette
from chalcedon.scene.paints import Palette, palette_name, users_of

NEW = "#d97b4a"


class PalettePanel(Panel):
    """A popup with a row a colour: chip, name, CSS text, users, ×. Everything in it is an undo step."""

    def __init__(self, session: Session, owner: QWidget) -> None:
        super().__init__("Palette", session, owner)
        self.picker: ColorPicker | None = None
        self._shown: Any = None
        layout = self.column
        self.empty = Label("No named colours yet. Shapes refer to a named colour,\nso a change here changes them all.")
        layout.addWidget(self.empty)
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(8)
        self.grid.setVerticalSpacing(4)
        layout.addLayout(self.grid)
        layout.addWidget(self.complaint)
        layout.addWidget(self.unsolved)
        foot = QHBoxLayout()
        self.add = Button("Add a colour")
        self.add.clicked.connect(self._add)
        self.gather = Button("Name the fill of the selection")
        set_tip(self.gather, "Puts that colour into the palette, and has every shape that uses it refer to it")
        self.gather.clicked.connect(self._gather)
        for button in (self.add, self.gather):
            foot.addWidget(button)
        foot.addStretch()
        layout.addLayout(foot)

    def restyle(self) -> None:
        super().restyle()
        self.empty.setStyleSheet(f"color: {theme().muted};")

    def refresh(self) -> None:
        """Shows the palette as it is now."""
        scene = self.session.scene
        pairs, now = scene.stated("palette"), scene.palette
        typed = tuple((row["name"].text(), row["text"].text()) for row in self.rows.values())
        if pairs != self._shown or typed != tuple((n, _text(c)) for n, c in pairs):
            self._shown = pairs
            self.remake(self.grid, lambda: self._rows(pairs))
        unsolved = []
        for name, color in now:
            self.rows[name]["chip"].setIcon(chip_icon(color, {}))
            problem = self._tell_formula(name, self.rows[name]["text"])
            unsolved += [f"{name} can't be worked out: {problem}"] if problem is not None else []
        self.tell_unsolved("\n".join(unsolved[:3]))
        for name, row in self.rows.items():
            self._tell_users(name, row["used"])
        self.empty.setVisible(not self.rows)
        current = self.session.current
        fill = current.stated("fill") if current is not None and "fill" in current.properties else None
        self.gather.setVisible(isinstance(fill, str) and not palette_name(fill))
        self.complaint.setVisible(bool(self.complaint.text()))
        self.fit_in()

    def _rows(self, pairs: tuple[tuple[str, Any], ...]) -> None:
        for i, (name, color) in enumerate(pairs):
            self._row(i, name, color)

    def _row(self, i: int, name: str, color: str | Formula) -> None:
        chip = ToolButton()
        chip.setAccessibleName(f"Change the colour {name}")
        chip.clicked.connect(partial(self._pick, name))
        title, text = QLineEdit(name), QLineEdit(_text(color))
        for entry, what, width in ((title, "Name", 110), (text, "Colour", 150)):
            entry.setAccessibleName(f"{what} of {name}")
            entry.setFixedWidth(width)
            entry.setCursorPosition(0)
        title.editingFinished.connect(lambda: self._rename(name, title.text()))
        text.editingFinished.connect(lambda: self._recolor(name, text.text()))
        used = Button()
        used.clicked.connect(lambda: self._select(name))
        away = ToolButton()
        away.setText("×")
        away.setAccessibleName(f"Take {name} out of the palette")
        set_tip(away, "What uses it keeps the colour as its own")
        away.clicked.connect(lambda: self._remove(name))
        for column, widget in enumerate((chip, title, text, used, away)):
            self.grid.addWidget(widget, i, column)
            widget.show()  # now, not when the layout comes to it: it may be given the focus
        self.rows[name] = {"chip": chip, "name": title, "text": text, "used": used, "remove": away}

    def _tell_formula(self, name: str, entry: QLineEdit) -> FormulaProblem | None:
        """Shows what a formula comes to, and what is wrong with it."""
        stated = dict(self.session.scene.stated("palette"))[name]
        cell = formulas_at(self.session.scene, "palette") if isinstance(stated, Formula) else None
        problem = None if cell is None else cell.problem_with(stated)
        style = "font-style: italic;" if isinstance(stated, Formula) else ""
        entry.setStyleSheet(f"{style} color: {theme().carnelian};" if problem else style)
        now = dict(self.session.scene.palette)[name]
        tip = f"= {stated.text}, now {now}" if isinstance(stated, Formula) else ""
        set_tip(entry, tip if problem is None else problem.sentence)
        return problem

    def _tell_users(self, name: str, button: Button) -> None:
        users = users_of(self.session.scene, name)
        button.setText(f"used by {len(users)}" if users else "not used")
        button.setEnabled(bool(users))
        set_tip(button, ", ".join(s.id for s in users[:30]))

    # acts

    def _put(self, pairs: dict[str, Any], name: str, gesture: object = None) -> None:
        scene = self.session.scene
        with scene.step(name, gesture):
            scene.set(scene, "palette", Palette().read(pairs))

    def _rename(self, old: str, new: str) -> None:
        if old in dict(self.session.scene.palette):
            self.attempt(lambda: palette.rename_color(self.session.scene, old, new.strip()), old != new.strip())

    def _recolor(self, name: str, text: str, gesture: object = None) -> None:
        pairs = dict(self.session.scene.stated("palette"))
        if name not in pairs:
            return
        now, act = dict(self.session.scene.palette)[name], f"Change the colour {name}"
        other = _text(pairs[name]) != text
        self.attempt(lambda: self._put({**pairs, name: typed_color(text, now)}, act, gesture), other)

    def _pick(self, name: str) -> None:
        dispose(self.picker)
        color = dict(self.session.scene.stated("palette"))[name]
        self.picker = picker = ColorPicker(self, self.session.scene, color, name, False, True)
        gesture = object()
        picker.picked.connect(lambda paint: None if palette_name(paint) else self._recolor(name, _text(paint), gesture))
        picker.closed.connect(self.session.end_gesture)
        picker.open_at(self.mapToGlobal(QPoint(0, self.height())))

    def _select(self, name: str) -> None:
        self.close()
        self.session.select(users_of(self.session.scene, name))

    def _remove(self, name: str) -> None:
        self.attempt(lambda: palette.remove_color(self.session.scene, name))

    def _add(self) -> None:
        pairs = dict(self.session.scene.stated("palette"))
        i = len(pairs) + 1
        while f"colour-{i}" in pairs:
            i += 1
        self.attempt(lambda: self._put({**pairs, f"colour-{i}": NEW}, f"Add colour-{i} to the palette"))
        self.rows[f"colour-{i}"]["name"].setFocus()
        self.rows[f"colour-{i}"]["name"].selectAll()

    def _gather(self) -> None:
        current = self.session.current
        if current is not None:
            color = current.stated("fill")
            pairs = dict(self.session.scene.palette)
            name = current.id if current.id not in pairs else f"{current.id}-fill"
            self.attempt(lambda: palette.name_color(self.session.scene, color, name))
            if name in self.rows:
                self.rows[name]["name"].setFocus()
                self.rows[name]["name"].selectAll()

    def open_at(self, spot: QPoint) -> None:
        self.show_at(spot)
        self.add.setFocus()


def _text(color: str | Formula) -> str:
    """A colour as its cell states it."""
    return f"= {color.text}" if isinstance(color, Formula) else color
