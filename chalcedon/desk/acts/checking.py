"""The check-up in the window: remarks about the selected shapes appear by themselves, a round goes through all."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer

from chalcedon.desk.panels.messages import MessageBar
from chalcedon.desk.session import Session
from chalcedon.hit.where import Reason, where
from chalcedon.scene import Shape

if TYPE_CHECKING:
    from chalcedon.craft.checkup import Remark, Repair

REST_MS = 180
"""How long the scene must be left alone before what is selected is looked at."""
MOST_REPAIRS = 4
BIRTH_MS = 350
"""How long a shape that was just made is left alone before it is looked at."""
BORN = frozenset(("covered", "clipped", "cut out", "off the page", "same colour", "no paint", "too small"))
"""What is said of a new shape that can't be seen."""
MOST = 20
"""Selected shapes that are looked at."""


class Checking(QObject):
    """Keeps `session.remarks` about what is selected."""

    def __init__(self, session: Session, messages: MessageBar) -> None:
        super().__init__()
        self.session, self.messages = session, messages
        self._timer = QTimer(messages)  # it ends with the window
        self._timer.setSingleShot(True)
        self._timer.setInterval(REST_MS)
        self._timer.timeout.connect(self.look)
        session.changed.connect(lambda _changes: self._timer.start())
        session.selection_changed.connect(self._timer.start)
        session.replaced.connect(self._timer.start)
        self._asked: tuple[Shape | None, str] = None, ""
        self._again = QTimer(messages)  # it ends with the window
        self._again.setSingleShot(True)
        self._again.setInterval(REST_MS)
        self._again.timeout.connect(self._ask_again)
        session.changed.connect(lambda _changes: self.session.sought is not None and self._again.start())
        self._born: Shape | None = None
        session.added.connect(self._note_born)
        session.changed.connect(self._wait_with_born)
        self._birth = QTimer(messages)  # it ends with the window
        self._birth.setSingleShot(True)
        self._birth.setInterval(BIRTH_MS)
        self._birth.timeout.connect(self._look_at_born)

    def _note_born(self, shape: Shape) -> None:
        self._born = shape
        self._birth.start()

    def _wait_with_born(self, _changes: object) -> None:
        """A shape that is still being drawn is left alone."""
        if self._born is not None:
            self._birth.start()

    def _look_at_born(self) -> None:
        """Says when a shape that was just made can't be seen where it landed, with what would bring it out."""
        shape, self._born = self._born, None
        session = self.session
        if shape is None or shape.scene is not session.scene or session.display.find(shape) is None:
            return
        reasons = [r for r in where(session.tester, shape) if r.what in BORN]
        if not reasons:
            return
        first = reasons[0]

        def mend(repair: Repair) -> None:
            with session.step(""):
                repair.act(session.display)

        answers = [*((r.words, partial(mend, r)) for r in first.repairs[:2]), ("Show it", partial(self.where, shape))]
        self.messages.offer(_said([first]), answers, lambda: shape.scene is session.scene)

    def look(self) -> None:
        """Looks at the selected shapes now."""
        self._timer.stop()
        from chalcedon.files.check import check_scene

        shapes = [s for s in self.session.selection if s.scene is self.session.scene]
        few = shapes if len(shapes) <= MOST else []
        remarks = check_scene(self.session.display, few, thorough=False) if few else []
        if remarks or self.session.remarks:
            self.session.remarks = remarks
            self.session.remarks_changed.emit()

    def repair(self, repair: Repair, remark: Remark) -> None:
        """Carries a repair out, as one undo step; the shape stays selected."""
        id = remark.shape.id
        with self.session.step(""):
            repair.act(self.session.display)
        scene = self.session.scene
        if id in scene and not self.session.is_selected(scene[id]):
            self.session.select([scene[id]])
        self.look()

    def where(self, shape: Shape | None = None) -> None:
        """Says why a shape can't be seen, with what brings it out, and shows it through what covers it."""
        shape = shape or self.session.current
        if shape is None or shape.scene is not self.session.scene:
            self.session.say("Select what you look for: its row can be clicked.")
            return
        self.session.select([shape])
        self.session.seek(shape)
        self._ask(shape, where(self.session.tester, shape))

    def _ask_again(self) -> None:
        """Asks anew when the reasons are others: a question is about the scene as it is."""
        shape, text = self._asked
        if shape is None or self.session.sought is not shape or shape.scene is not self.session.scene:
            return
        reasons = where(self.session.tester, shape)
        if (_said(reasons) or self._in_sight(shape)) != text:
            self._ask(shape, reasons, self.messages.has_focus)

    def _ask(self, shape: Shape, reasons: list[Reason], focus: bool = True) -> None:
        text = _said(reasons) or self._in_sight(shape)
        asked = self._asked = shape, text
        self.messages.recheck()  # one that is asked about another shape goes

        def mend(repair: Repair) -> None:
            with self.session.step(""):
                repair.act(self.session.display)
            self.where(shape)

        def stands() -> bool:
            here = shape.scene is self.session.scene and self.session.sought is shape
            return here and self._asked is asked

        def end() -> None:
            if self._asked is asked:
                self.session.seek(None)

        repairs = {r.words: r for reason in reasons for r in reason.repairs}
        answers = [(words, lambda r=r: mend(r)) for words, r in list(repairs.items())[:MOST_REPAIRS]]
        self.messages.ask(text, [*answers, ("Close", end)], stands, end, focus)

    def _in_sight(self, shape: Shape) -> str:
        left, top, right, bottom = self.session.node(shape).bounds()
        if left > right:
            return f"{shape.id} shows nothing of its own."
        return f"{shape.id} is in plain sight, around {(left + right) / 2:.4g}, {(top + bottom) / 2:.4g}."

    def round(self) -> None:
        """Goes through everything there is to say about the scene, one remark after another."""
        from chalcedon.files.check import check_scene

        self._show(check_scene(self.session.display), 0)

    def _show(self, remarks: list[Remark], i: int) -> None:
        alive = [r for r in remarks[i:] if r.shape.scene is self.session.scene]
        if not alive:
            text = "That was the last remark." if remarks else "The check-up found nothing to remark."
            self.session.say(text)
            return
        remark = alive[0]
        i = remarks.index(remark)
        self.session.select([remark.shape])
        self.look()

        def go_on() -> None:
            self._show(remarks, i + 1)

        def mend(repair: Repair) -> None:
            self.repair(repair, remark)
            go_on()

        answers = [(r.words, lambda r=r: mend(r)) for r in remark.repairs]
        last = i == len(remarks) - 1
        self.messages.ask(
            f"{i + 1} of {len(remarks)} · {remark}", [*answers, ("Done" if last else "Leave it, next", go_on)]
        )


def _said(reasons: list[Reason]) -> str:
    """Reasons as sentences that follow one another."""
    return " ".join(r.sentence for r in reasons)
