"""The live strip at the foot of the window: Build or Live, the clock, and the inputs of the scene."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QPoint, QSize, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QButtonGroup, QFrame, QHBoxLayout, QMenu, QWidget

from chalcedon.desk.live.controls import Control, Hand, make_control
from chalcedon.desk.live.player import SPEEDS, Player
from chalcedon.desk.looks.buttons import Button, ToolButton
from chalcedon.desk.looks.glyphs import icon
from chalcedon.desk.looks.plain import Label, in_menu, set_tip
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.session import Session
from chalcedon.problems import ChalcedonError
from chalcedon.view.guarded import Guarded

HEIGHT = 44


def said_time(seconds: float) -> str:
    """A time as the strip shows it: 0:03.20."""
    whole = int(seconds)
    return f"{whole // 60}:{whole % 60:02d}.{int(seconds * 100) % 100:02d}"


class TimeLine(Guarded, QWidget):
    """A line to drag through time."""

    sought = Signal(float)

    def __init__(self, strip: LiveStrip) -> None:
        super().__init__()
        self._strip = strip
        self.setMinimumWidth(90)
        self.setMaximumWidth(190)
        self.setFixedHeight(26)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Time")
        set_tip(self, "Drag to go through time")

    def _at(self, x: float) -> float:
        return max(0.0, min(1.0, (x - 6) / max(1, self.width() - 12))) * self._strip.player.range

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self.sought.emit(self._at(event.position().x()))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self.sought.emit(self._at(event.position().x()))

    def keyPressEvent(self, event: Any) -> None:
        by = {Qt.Key.Key_Left: -1.0, Qt.Key.Key_Right: 1.0}.get(Qt.Key(event.key()))
        if by is None:
            super().keyPressEvent(event)
            return
        small = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        self.sought.emit(max(0.0, self._strip.player.time + by * (1.0 if small else 0.1)))

    def paintEvent(self, event: QPaintEvent) -> None:
        t, player = theme(), self._strip.player
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle, right = self.height() / 2, self.width() - 6
        painter.setPen(QPen(t.color("line"), 3, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        painter.drawLine(QPoint(6, int(middle)), QPoint(right, int(middle)))
        x = 6 + (right - 6) * min(1.0, player.time / player.range)
        color = "chrysoprase" if player.live is not None else "muted"
        painter.setPen(QPen(t.color(color), 3, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        painter.drawLine(QPoint(6, int(middle)), QPoint(int(x), int(middle)))
        painter.setPen(QPen(t.color("carnelian" if self.hasFocus() else color), 1.5))
        painter.setBrush(t.color("panel"))
        painter.drawEllipse(QPoint(int(x), int(middle)), 5, 5)
        painter.end()


class LiveStrip(Guarded, QWidget):
    """Follows the session's document; another document brings another player."""

    inputs_asked = Signal()
    """The panel of all inputs is to be shown."""
    keep_asked = Signal()
    switched = Signal()
    """The mode or the clock is another."""
    stepped = Signal()
    """The time is another."""
    gone_to = Signal(str)
    """The scene asked for another one."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setFixedHeight(HEIGHT)
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setObjectName("live")
        self.controls: dict[str, Control] = {}
        self._specs: tuple[Any, ...] = ()
        self._player: Player | None = None
        self._build()
        session.replaced.connect(self._replace)
        session.changed.connect(lambda _changes: self.refresh())
        self._replace()

    @property
    def player(self) -> Player:
        return self.session.document.player

    def _build(self) -> None:
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 0, 14, 0)
        row.setSpacing(4)
        self.modes = QButtonGroup(self)
        self.build, self.live = ToolButton(), ToolButton()
        for button, text, tip in (
            (self.build, "Build", "The pointer edits the scene (F5)"),
            (self.live, "Live", "The pointer plays the scene (F5)"),
        ):
            button.setText(text)
            button.setCheckable(True)
            set_tip(button, tip)
            self.modes.addButton(button)
            row.addWidget(button)
        self.build.clicked.connect(lambda: self.player.leave())
        self.live.clicked.connect(lambda: self.player.enter())
        row.addWidget(_rule())
        self._build_clock(row)
        row.addWidget(_rule())
        self.shown = QHBoxLayout()
        self.shown.setSpacing(12)
        row.addSpacing(6)
        row.addLayout(self.shown)
        row.addSpacing(6)
        self.more = Button("Inputs…")
        set_tip(self.more, "All inputs of the scene, and new ones")
        self.more.clicked.connect(self.inputs_asked.emit)
        row.addWidget(self.more)
        row.addStretch(1)
        self.reset, self.keep = Button("Reset"), Button("Keep this")
        set_tip(self.reset, "Begins the run anew, with the scene as it is built")
        set_tip(self.keep, "Takes what the run has set into the scene, as one undo step")
        self.reset.clicked.connect(self._zero)
        self.keep.clicked.connect(self.keep_asked.emit)
        row.addWidget(self.reset)
        row.addWidget(self.keep)

    def _build_clock(self, row: QHBoxLayout) -> None:
        self.zero, self.clock, self.step = ToolButton(), ToolButton(), ToolButton()
        for button, glyph, name, act in (
            (self.zero, "to zero", "Back to time 0", self._zero),
            (self.clock, "play", "Play", lambda: self.player.toggle_clock()),
            (self.step, "one step", "One step", lambda: self.player.step()),
        ):
            button.setIconSize(QSize(20, 20))
            button.setProperty("glyph", glyph)
            button.setAccessibleName(name)
            set_tip(button, name)
            button.clicked.connect(act)
            row.addWidget(button)
        self.time = Label("0:00.00")
        self.time.setFont(font())
        self.time.setFixedWidth(58)
        self.time.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        row.addWidget(self.time)
        self.line = TimeLine(self)
        self.line.sought.connect(self._seek)
        row.addWidget(self.line)
        self.speed = ToolButton()
        self.speed.setAccessibleName("Speed")
        set_tip(self.speed, "How fast the clock goes")
        self.speed.clicked.connect(self._speeds)
        row.addWidget(self.speed)

    @property
    def hand(self) -> Hand:
        """For controls of the inputs of the scene."""
        return Hand(lambda: self.session.scene, self.set_input, lambda text: self.session.say(text, "problem"))

    # following

    def _replace(self) -> None:
        if self._player is not None:
            try:
                self._player.switched.disconnect(self._switched)
                self._player.moved.disconnect(self._stepped)
                self._player.gone_to.disconnect(self.gone_to)
                self._player.failed.disconnect(self._tell_fault)
            except RuntimeError:
                pass  # it went with its document
        self._player = self.player
        self._player.switched.connect(self._switched)
        self._player.moved.connect(self._stepped)
        self._player.gone_to.connect(self.gone_to)
        self._player.failed.connect(self._tell_fault)
        self._switched()

    def _tell_fault(self, sentence: str) -> None:
        self.session.say(sentence, "problem")

    def _switched(self) -> None:
        alive = self.player.live is not None
        (self.live if alive else self.build).setChecked(True)
        self.clock.setProperty("glyph", "pause" if self.player.playing else "play")
        name = "Pause" if self.player.playing else "Play"
        self.clock.setAccessibleName(name)
        set_tip(self.clock, f"{name} (Shift+F5)")
        self.reset.setVisible(alive)
        self.keep.setVisible(alive)
        self.restyle()
        self.refresh()
        self.switched.emit()

    def _stepped(self) -> None:
        self.refresh()
        self.stepped.emit()

    def refresh(self) -> None:
        """Shows the time and the inputs as they are now."""
        self.time.setText(said_time(self.player.time))
        self.line.update()
        specs = self.session.scene.inputs.specs()
        told = tuple(s._replace(value=None) for s in specs)
        if told != self._specs:
            self._specs = told
            self._lay_inputs()
        for name, control in self.controls.items():
            control.show_value(self.session.display.input(name))

    def _lay_inputs(self) -> None:
        while (item := self.shown.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.hide()
                widget.deleteLater()
        self.controls = {}
        for spec in self.session.scene.inputs.specs():
            control = make_control(spec, self.hand)
            self.shown.addWidget(control)
            self.controls[spec.name] = control
        self._fit()

    def _fit(self) -> None:
        """Shows as many inputs as there is room for; the panel has all of them."""
        alive = self.player.live is not None
        used = sum(w.sizeHint().width() + 6 for w in (self.build, self.live, self.zero, self.clock, self.step))
        used += 58 + self.line.width() + self.speed.sizeHint().width() + self.more.sizeHint().width() + 90
        used += (self.reset.sizeHint().width() + self.keep.sizeHint().width() + 8) if alive else 0
        room = self.width() - used
        hidden = 0
        for control in self.controls.values():
            room -= control.sizeHint().width() + 12
            fits = room >= 0 and not hidden
            control.setVisible(fits)
            hidden += not fits
        self.more.setText(f"{hidden} more…" if hidden else "Inputs…")

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    # acts

    def set_input(self, name: str, value: Any, gesture: object = None) -> None:
        """Gives an input a value: of the run while the scene lives, else of the scene, as one undo step a gesture."""
        player = self.player
        try:
            if player.live is not None:
                player.live.set_input(name, value)
                if not player.playing:
                    player.step()
                return
            with self.session.step(f"Set {name}", gesture) as scene:
                scene.inputs.set(name, value, gesture)
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")
            self.refresh()

    def _zero(self) -> None:
        self.player.zero()

    def _seek(self, seconds: float) -> None:
        try:
            self.player.seek(seconds)
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")

    def _speeds(self) -> None:
        menu = QMenu(self)
        for speed in SPEEDS:
            action = menu.addAction(in_menu(_said_speed(speed)))
            action.setCheckable(True)
            action.setChecked(speed == self.player.speed)
            action.triggered.connect(lambda _=False, s=speed: self.player.set_speed(s))
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(self.speed.mapToGlobal(QPoint(0, -menu.sizeHint().height())))

    def restyle(self) -> None:
        """Takes the colours of the theme and of the mode."""
        t = theme()
        alive = self.player.live is not None
        color = t.live if alive else t.paper
        line = t.chrysoprase if alive else t.line
        self.setStyleSheet(
            f"QWidget#live {{ background: {color}; border-top: {2 if alive else 1}px solid {line}; }}"
            f"QToolButton:checked {{ background: {t.chrysoprase if alive else t.sunken};"
            f" color: {t.panel if alive else t.ink}; border-color: {line}; }}"
        )
        self.time.setStyleSheet(f"color: {t.chrysoprase if alive else t.muted}; background: transparent;")
        for button in (self.zero, self.clock, self.step):
            button.setIcon(icon(button.property("glyph"), t.ink))
        self.speed.setText(_said_speed(self.player.speed))
        for control in self.controls.values():
            control.restyle()
        self._fit()


def _said_speed(speed: float) -> str:
    return {0.25: "× ¼", 0.5: "× ½"}.get(speed, f"× {speed:g}")


def _rule() -> QFrame:
    rule = QFrame()
    rule.setFrameShape(QFrame.Shape.VLine)
    rule.setFixedHeight(22)
    rule.setStyleSheet("color: palette(mid);")
    return rule
