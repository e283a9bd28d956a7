"""The check-up in the window: remarks about the selected shapes appear by themselves, a round goes through all."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer

from chalcedon.desk.panels.messages import MessageBar
from chalcedon.desk.session import Session

if TYPE_CHECKING:
    from chalcedon.craft.checkup import Remark, Repair

REST_MS = 180
"""How long the scene must be left alone before what is selected is looked at."""
MOST = 20
"""Selected shapes that are looked at."""


class Checking(QObject):
    """Keeps `session.remarks` about what is selected."""

    def __init__(self, session: Session, messages: MessageBar) -> None:
        super().__init__()
        self.session, self.messages = session, messages
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(REST_MS)
        self._timer.timeout.connect(self.look)
        session.changed.connect(lambda _changes: self._timer.start())
        session.selection_changed.connect(self._timer.start)
        session.replaced.connect(self._timer.start)

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
        if id in scene and scene[id] not in self.session.selection:
            self.session.select([scene[id]])
        self.look()

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
