"""Typing into a cell: the text takes effect while it is typed, Escape takes it back."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QEvent, Qt, QTimer, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent
from PySide6.QtWidgets import QLineEdit, QWidget

from chalcedon.craft.descriptions import set_description
from chalcedon.craft.several import MIXED, Several
from chalcedon.desk.ledger.cells import Cell, Owner
from chalcedon.desk.ledger.formulacells import formula_from, is_formula_text, problem_of
from chalcedon.desk.ledger.formulahelp import FormulaHelp
from chalcedon.desk.ledger.parts import Way, exact, part, with_part
from chalcedon.desk.ledger.spelling import one_line, plainly
from chalcedon.desk.looks.plain import set_tip
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.picker.colorfields import typed_color
from chalcedon.desk.session import Session
from chalcedon.formula import Formula, calculate, plus, relative
from chalcedon.geometry.digits import in_full
from chalcedon.problems import ChalcedonError, ValueProblem
from chalcedon.scene import Shape
from chalcedon.scene.declare import Declared, Property
from chalcedon.scene.paints import COLOR, Gradient, Pattern, Picture, ShadowValue
from chalcedon.scene.proportions import set_following
from chalcedon.scene.responses import Response, Responses
from chalcedon.scene.runs import Runs, TextRun
from chalcedon.scene.tidy import tidy
from chalcedon.scene.values import Ref, TextValue
from chalcedon.source.answers import parse_response, print_response
from chalcedon.source.settings import parse_run, print_run
from chalcedon.source.text import print_paint
from chalcedon.view.guarded import Guarded


class CellEditor(Guarded, QLineEdit):
    """Stands over a cell. Emits `finished` with +1 or -1 to go on to the next or the previous value, else 0."""

    finished = Signal(int)
    complained = Signal(str)
    usage = Signal(str)
    """What the function that is being written takes; empty for none."""

    def __init__(self, parent: QWidget, session: Session, cell: Cell, start: str | None = None) -> None:
        super().__init__(parent)
        assert cell.owner is not None
        self.session, self.cell = session, cell
        self.owner: Owner = cell.owner
        self._base = None if cell.role == "id" or cell.also else self.owner.stated(cell.name)
        """What was stated when typing began: what is typed may be by what it was."""
        self._gesture = object()
        self._over = False
        self._wrong = ""
        self.mistake = ""
        """Why the formula that was typed can't be worked out."""
        self.setFont(font())
        self.setAccessibleName(f"{cell.name.replace('_', ' ')} of {getattr(self.owner, 'id', 'scene')}")
        self.setFrame(False)
        text = self._text_of(cell)
        self.setMaxLength(max(LONGEST, 2 * len(text)))  # before the text, which would be cut
        self.setText(text if start is None else start)
        self.inputRejected.connect(self._too_long)
        self._style(False)
        self.help = FormulaHelp(self)
        if start is None:
            self.selectAll()
        self.textEdited.connect(self._try)
        self.textChanged.connect(self._grow)
        if start is not None:
            self._try(start)

    def _style(self, wrong: bool) -> None:
        t = theme()
        self.setStyleSheet(
            f"QLineEdit {{ background: {t.warn if wrong else t.panel}; color: {t.ink}; padding: 0 3px;"
            f" border: 1.5px solid {t.carnelian}; border-radius: 3px; }}"
        )

    def _text_of(self, cell: Cell) -> str:
        if cell.role == "id":
            return cell.text
        if cell.role == "number":
            return exact(cell.value)
        if isinstance(cell.value, Formula):
            return cell.value.text
        if isinstance(cell.value, Gradient | Pattern | Picture):
            return print_paint(cell.value)
        if isinstance(cell.value, TextRun):
            return print_run(cell.value)
        if isinstance(cell.value, Response):
            return print_response(cell.value)
        return "" if cell.value is None or cell.value is MIXED else one_line(str(cell.value))

    def _grow(self, text: str) -> None:
        """Makes room for what is written, as far as there is any beside it."""
        parent = self.parentWidget()
        around = (self.width() if parent is None else parent.width()) - 8
        need = min(self.fontMetrics().horizontalAdvance(text) + 26, around)
        if need > self.width():
            self.setGeometry(max(4, min(self.x(), 4 + around - need)), self.y(), need, self.height())

    def _too_long(self) -> None:
        if len(self.text()) >= self.maxLength():
            self.session.say(f"A cell takes up to {self.maxLength():,} characters; the rest was left out.", "problem")

    # while typing

    def _try(self, text: str) -> None:
        if self.cell.role == "id":
            self._complain("")
            return  # an id changes when it is finished: half-typed ones would run through formulas
        self.mistake, wrong = "", ""
        try:
            self._set(text)
        except ChalcedonError as problem:
            wrong = problem.sentence
        if not wrong or self.is_response:
            self.help.refresh()
        if not self.help.list.isVisible() or (wrong and not self.is_response):
            self._complain(wrong, self.mistake)
        else:  # a name, or a sentence, that is being typed isn't wrong yet
            self._complain("")
            self._wrong = wrong

    def _set(self, text: str) -> None:
        if self.cell.also:
            assert isinstance(self.owner, Shape)
            try:
                set_description(
                    self.session.display,
                    self.owner,
                    self.cell.also,
                    self.cell.path[0],
                    calculate(text),
                    self._gesture,
                )
            finally:
                self.session.flush()
            return
        prop = self.owner.declared(self.cell.name)
        scene = self.session.scene
        if self._takes_formula(prop, text):
            self._set_formula(text)
            return
        by = relative(text) if self.cell.role == "number" else None
        if isinstance(self.owner, Several):
            self._set_all(self.owner, text, by)
            return
        if self.cell.role == "number":
            number = self._number(text) if by is None else by(part(self._base, self.cell.path))
            new: Any = with_part(self.owner.stated(self.cell.name), self.cell.path, number)
        elif isinstance(prop.kind, ShadowValue):
            color = typed_color(text, COLOR.plain(part(self._base, self.cell.path)))
            new = with_part(self.owner.stated(self.cell.name), self.cell.path, color)
        elif isinstance(prop.kind, Runs):
            run = parse_run(text, dict(self.cell.value.values))
            new = with_part(self.owner.stated(self.cell.name), self.cell.path, run)
        elif isinstance(prop.kind, Responses):
            new = with_part(self.owner.stated(self.cell.name), self.cell.path, parse_response(text))
        else:
            new = plainly(prop.kind, text, scene)
        owner = getattr(self.owner, "id", "scene")
        try:
            with scene.step(f"Change {prop.word} of {owner}", self._gesture):
                if isinstance(self.owner, Shape):
                    set_following(scene, self.owner, self.cell.name, new)
                else:
                    scene.set(self.owner, self.cell.name, new)
        finally:
            self.session.flush()
        self._note_mistake(part(new, self.cell.path))

    def _takes_formula(self, prop: Property[Any], text: str) -> bool:
        was = isinstance(self.cell.value, Formula)
        if isinstance(prop.kind, Runs | Responses) or (isinstance(prop.kind, ShadowValue) and self.cell.path == (3,)):
            return False
        base = self.subject.stated(self.cell.name)
        if self.cell.path and not isinstance(part(base, self.cell.path), Formula | int | float):
            return False
        return is_formula_text(prop, text, was, self.session.scene.inputs)

    def _set_formula(self, text: str) -> None:
        """Puts a formula there; what it came to last is what the picture shows until it can be worked out."""
        name, path, owner, scene = self.cell.name, self.cell.path, self.owner, self.session.scene
        try:
            if isinstance(owner, Several):
                self.session.take_back(self._gesture)
                text = formula_from(text, None).text
                owner.formulate(self.session.display, name, path, text, self._gesture)
            else:
                formula = formula_from(text, self._last_of(self.cell))
                with scene.step(
                    f"Change {owner.declared(name).word} of {getattr(owner, 'id', 'scene')}", self._gesture
                ):
                    scene.set(owner, name, with_part(owner.stated(name), path, formula))
        finally:
            self.session.flush()
        self._note_mistake(part(self.subject.stated(name), path))

    def _note_mistake(self, typed: Any) -> None:
        if self.cell.path and not isinstance(typed, Formula):
            return  # what is wrong is wrong elsewhere
        problem = problem_of(self.subject, self.cell.name, typed if isinstance(typed, Formula) else None)
        if problem is not None:
            self.mistake = problem.sentence

    def _last_of(self, cell: Cell) -> Any:
        """What the value was before typing began, plainly: what is half written shows nothing else meanwhile."""
        if not cell.path:
            return self.owner.declared(cell.name).kind.plain(self._base)
        was = part(self._base, cell.path)
        return was.last if isinstance(was, Formula) else was

    def _set_all(self, several: Several, text: str, by: Callable[[Any], Any] | None) -> None:
        """Gives what was typed to all of several shapes, or changes each by what it was before typing began."""
        self.session.take_back(self._gesture)
        name, path, display = self.cell.name, self.cell.path, self.session.display
        kind = several.declared(name).kind
        try:
            if by is not None:
                several.change(display, name, path, by, self._gesture)
            elif self.cell.role == "number":
                new = with_part(self._blank(path), path, self._number(text))
                several.set(display, name, new, self._gesture)
            else:
                several.set(display, name, plainly(kind, text, self.session.scene), self._gesture)
        finally:
            self.session.flush()

    def _blank(self, path: Way) -> Any:
        """The value with every number left as each shape has it."""
        return tuple(MIXED for _ in self._base) if isinstance(self._base, tuple) and path else MIXED

    def _number(self, text: str) -> Any:
        """What was typed for a number; some have words for special ones."""
        kind = self.owner.declared(self.cell.name).kind
        words = getattr(getattr(kind, "of", kind), "words", {})
        return words[text.strip()] if isinstance(words, dict) and text.strip() in words else calculate(text)

    def _complain(self, text: str, mistake: str = "") -> None:
        """Says what is wrong: with a text that can't be taken, or with a formula that is kept all the same."""
        self._wrong = text
        self._style(bool(text or mistake))
        set_tip(self, text or mistake)
        self.complained.emit(text or mistake)

    @property
    def subject(self) -> Declared:
        """Whose value it is; of several shapes the first."""
        return self.owner.shapes[0] if isinstance(self.owner, Several) else self.owner

    @property
    def may_be_formula(self) -> bool:
        """Whether a formula can be written here, and what stands there may become one."""
        if self.cell.role == "id" or self.cell.also:
            return False
        kind = self.owner.declared(self.cell.name).kind
        if isinstance(kind, Runs | Responses):
            return False
        words = isinstance(kind, TextValue) and not isinstance(kind, Ref) and not isinstance(self.cell.value, Formula)
        return not words or self.text().lstrip()[:1] in ("=", "f", '"', "'")

    @property
    def is_response(self) -> bool:
        """Whether a response is written here."""
        return self.cell.name == "responses" and not isinstance(self.owner, Several)

    def take_text(self) -> None:
        """Takes what stands there as if it had been typed."""
        self._try(self.text())

    def replace(self, text: str) -> None:
        """Takes a text as if it had been typed."""
        self.setText(text)
        self._try(text)

    # ending

    def commit(self, way: int = 0) -> None:
        """Keeps what was typed. When it can't be taken, the value stays as it was, and why is said."""
        if self._over:
            return
        self._over = True
        self._let_go()
        gone = isinstance(self.owner, Shape | Several) and self.owner.scene is not self.session.scene
        if self._wrong and not gone:
            self.session.take_back(self._gesture)
            self.complained.emit("")
            self.session.say(f"{self._wrong} The value stays as it was.", "problem")
            self.finished.emit(way)
            return
        if self.cell.role == "id" and isinstance(self.owner, Shape) and not gone and self.text() != self.owner.id:
            shape = self.owner
            with self.session.step(""):
                self.session.scene.rename(shape, self.text().strip())
        self.session.end_gesture()
        self.complained.emit("")
        if self.mistake and not gone:
            self.session.say(f"{self.mistake} Until then the last value is used.", "problem")
        self.finished.emit(way)

    def revert(self) -> None:
        """Takes back everything that this editor changed."""
        if self._over:
            return
        self._over = True
        self._let_go()
        self.session.take_back(self._gesture)
        self.complained.emit("")
        self.finished.emit(0)

    def _let_go(self) -> None:
        self.help.list.hide()
        self.usage.emit("")
        if self.session.formula_editor is self:
            self.session.formula_editor = None

    def pick(self, shape: Shape, name: str = "", index: int = -1) -> None:
        """Goes on with the formula, with a reference to what was clicked."""
        self.session.formula_editor = None
        self.setFocus()
        self.help.pick(shape, name, index)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        if self.help.press(event):
            return
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if self._wrong and self.is_response:  # a sentence is too long to be written twice
                self.session.say(f"{self._wrong} Escape leaves it as it was.", "problem")
                return
            self.commit()
        elif key == Qt.Key.Key_Escape:
            self.revert()
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.cell.role == "number":
            self._step(1 if key == Qt.Key.Key_Up else -1, event)
        else:
            super().keyPressEvent(event)

    def _step(self, way: int, event: QKeyEvent) -> None:
        size = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        try:
            number = calculate(self.text()) + way * size * step_of(self.cell)
        except ValueProblem:
            if self.help.writes_formula:
                self.setText(plus(self.text(), way * size * step_of(self.cell)))
                self._try(self.text())
            return
        self.setText(in_full(tidy(number)))
        self._try(self.text())
        self.selectAll()

    def event(self, event: QEvent) -> bool:
        if (
            event.type() == QEvent.Type.KeyPress
            and isinstance(event, QKeyEvent)
            and event.key() in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab)
        ):
            if event.key() != Qt.Key.Key_Tab or not self.help.complete():
                self.commit(1 if event.key() == Qt.Key.Key_Tab else -1)
            return True
        return super().event(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        if event.reason() == Qt.FocusReason.MouseFocusReason and self.help.writes_formula and self.may_be_formula:
            self.session.formula_editor = self  # the click may pick what the formula reads; if not, it ends the writing
            QTimer.singleShot(0, self.session.end_formula)
        elif event.reason() != Qt.FocusReason.PopupFocusReason:
            self.commit()


LONGEST = 100_000
"""Characters that are typed into a cell, unless it holds more already."""


def step_of(cell: Cell) -> float:
    """How much one notch of the wheel, one arrow key, or one px of a drag changes a number."""
    if cell.owner is None:
        return 1.0
    if cell.also:
        return 1.0
    kind = cell.owner.declared(cell.name).kind
    if cell.name == "steps":
        op = cell.owner.stated("steps")[cell.path[0]].op
        return 0.05 if op in ("scale", "matrix") and -1 not in cell.path else 1.0
    of = getattr(kind, "of", kind)
    return float(getattr(of, "step", 1.0))
