"""What the window does about scenes that live: modes, inputs, recordings."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QFileDialog

from chalcedon.desk.ledger.parts import part, with_part
from chalcedon.desk.live.eventlog import EventLog
from chalcedon.desk.live.inputspanel import InputsPanel
from chalcedon.desk.live.strip import LiveStrip
from chalcedon.evaluate.users import state_values, users_of_name
from chalcedon.files.beside import scene_beside
from chalcedon.formula import Formula
from chalcedon.live.recording import check_fits, read_recording, recording_of, write_recording
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Shape
from chalcedon.scene.paints import palette_name
from chalcedon.scene.values import LIMIT, Number, Tuple

if TYPE_CHECKING:
    from chalcedon.desk.window import Window


class Living:
    """Build and Live, the inputs, and recordings, as the window offers them."""

    def __init__(self, window: Window) -> None:
        self.window = window
        self.session = window.session
        self.strip = LiveStrip(self.session)
        self.panel = InputsPanel(self.session, self.strip.hand, window)
        self.log = EventLog(self.session)
        self.strip.switched.connect(self._switched)
        self.strip.stepped.connect(self.log.later)
        self.strip.inputs_asked.connect(self.show_inputs)
        self.strip.keep_asked.connect(self.keep)
        self.strip.gone_to.connect(self._go_to, Qt.ConnectionType.QueuedConnection)

    @property
    def player(self) -> Any:
        return self.session.document.player

    def _switched(self) -> None:
        """The list of events takes the place of the probe while the scene lives."""
        alive = self.player.live is not None
        self.window.below.setCurrentIndex(int(alive))
        self.log.refresh()

    def toggle(self) -> None:
        """Build becomes Live, in place, and the other way round."""
        self.player.toggle()
        if self.player.live is not None:
            self.window.canvas.setFocus()

    def _go_to(self, name: str) -> None:
        """Opens another scene of the folder, alive as this one is."""
        scene = self.session.scene
        try:
            path = scene_beside(scene, name)
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")
            return

        def alive() -> None:
            if self.session.scene is not scene:
                self.player.enter()
                self.window.canvas.setFocus()

        self.window.files.go_to(path, alive)

    def keep(self) -> None:
        """Takes what the run has set into the scene."""
        live = self.player.live
        if live is None or not live.has_kept_values:
            self.session.say("The run has set nothing that could be kept.")
            return
        kept = live.keep()
        self.session.flush()
        what = f"{len(kept)} shape{'' if len(kept) == 1 else 's'}" if kept else "the inputs"
        self.session.say(f"Kept what the run came to: {what}. Undo takes it back.")

    def show_inputs(self) -> None:
        """Opens the panel of all inputs above the strip."""
        spot = self.strip.more.mapToGlobal(QPoint(0, -6))
        self.panel.open_at(spot)

    def add_response(self) -> None:
        """Has the scene itself answer something more; the sentence is written at the head of the list."""
        self.window.ledger.setFocus()
        self.window.ledger.verticalScrollBar().setValue(0)
        self.window.ledger.acts.add_response(self.session.scene)

    def tell_readers(self, gone: list[str]) -> None:
        """Says which formulas read shapes that are deleted, and offers to put their last values there."""
        scene = self.session.scene
        lost = [id for id in gone if id not in scene]
        users = list(dict.fromkeys(u for id in lost for u in users_of_name(scene, id) if u.name != "responses"))
        if not users:
            return
        said = ", ".join(f"{u.id or 'scene'}.{u.name}" for u in users[:4])
        more = f" and {len(users) - 4} more" if len(users) > 4 else ""
        text = f"{lost[0]} is read by {said}{more}; what they came to last stays in the picture."

        def put() -> None:
            with self.session.step("Put the last values there"):
                for id in lost:
                    state_values(scene, id)

        def stands() -> bool:
            return self.session.scene is scene and all(id not in scene for id in lost)

        self.window.messages.offer(text, [("Put the last values there", put)], stands)

    # an input out of a value

    def literal(self) -> tuple[Shape, str, tuple[int, ...], Any] | None:
        """The value in focus in the ledger, if it can become an input: a shape, a property, a path, the value."""
        cell = self.window.ledger.keys.focused_cell()
        if cell is None or not isinstance(cell.owner, Shape) or cell.also or cell.role not in _ROLES:
            return None
        if cell.name not in cell.owner.properties:
            return None
        value = part(cell.owner.stated(cell.name), cell.path)
        plain = isinstance(value, bool | int | float | str) and not palette_name(value)
        return (cell.owner, cell.name, cell.path, value) if plain else None

    def make_input(self) -> None:
        """Makes an input of the value in focus, which follows it from then on, and lets it be named."""
        found = self.literal()
        if found is None:
            self.session.say("Put a number, a colour or a switch of a shape into focus first.", "note")
            return
        shape, name, path, value = found
        kind, scene = shape.properties[name].kind, self.session.scene
        word = scene.free_id(_name_for(shape, name, path))
        said: dict[str, Any] = {}
        of = kind.of if isinstance(kind, Tuple) else kind
        if isinstance(of, Number):
            said = _range(of, value)
        elif getattr(kind, "words", ()) and isinstance(value, str):
            said = {"choices": tuple(kind.words)}
        with self.session.step(f"Make an input of {name} of {shape.id}"):
            scene.inputs.add(word, value, **said)
            scene.set(shape, name, with_part(shape.stated(name), path, Formula(word, value)))
        if word in scene.inputs:
            self.show_inputs()
            self.panel.name(word)

    # recordings

    def write_recording(self) -> None:
        """Writes what came into the run to a file."""
        live = self.player.live
        if live is None:
            self.session.say("There is no run to write down; F5 begins one.")
            return
        start = str(self.session.folder / f"{self.session.title}.jsonl")
        path, _ = QFileDialog.getSaveFileName(self.window, "Write what came into the run", start, "*.jsonl")
        if path:
            self.write_to(path)

    def write_to(self, path: str) -> None:
        """Writes the recording to a path; says what went wrong."""
        try:
            name = self.session.path.name if self.session.path else ""
            write_recording(recording_of(self.player.live, name), path)
        except (OSError, ChalcedonError) as problem:
            self.session.say(f"{path}: {getattr(problem, 'strerror', None) or problem}", "problem")
            return
        self.session.say(f"Wrote what came into the run to {Path(path).name}.")

    def replay(self) -> None:
        """Asks for a recording and runs the scene through it."""
        path, _ = QFileDialog.getOpenFileName(
            self.window, "Run through a recording", str(self.session.folder), "*.jsonl"
        )
        if path:
            self.replay_from(path)

    def replay_from(self, path: str) -> None:
        """Runs the scene through a recording, with the clock running."""
        try:
            recording = read_recording(path)
            check_fits(recording, self.session.scene)
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")
            return
        self.player.replay(recording)
        self.session.say(f"Running through {Path(path).name}: {recording.steps / 60:.1f} s.")


_ROLES = ("number", "text", "choice", "flag")


def _name_for(shape: Shape, name: str, path: tuple[int, ...]) -> str:
    labels = shape.properties[name].kind.labels
    if path and len(labels) > path[0] and name != "steps":
        return f"{shape.id}_{labels[path[0]]}"
    return f"{shape.id}_{name}" if name in ("at", "steps", "size") else name


def _range(of: Number, value: float) -> dict[str, Any]:
    """Limits that suit a number: its own, where it has any, else from 0 or its negative to about twice it."""
    if of.high < LIMIT and of.low > -LIMIT and of.high <= 1000:
        return {"low": of.low, "high": of.high}
    far = 10.0
    while far < abs(value) * 1.5:
        far *= 2 if str(far)[0] in "15" else 2.5
    return {"low": 0 if value >= 0 else -far, "high": far}
