"""What a program does to a run: pointers, keys, inputs. All of it is handled at the next step, in order of arrival."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, MutableMapping
from typing import Any

from chalcedon.evaluate import DisplayList
from chalcedon.live.events import NUMBERED, Item, counts
from chalcedon.live.state import State
from chalcedon.problems import ValueProblem, nearest, shorten, shorten_name
from chalcedon.scene import Scene, Shape
from chalcedon.scene.foreign import as_plain


class Incoming:
    """The doors of a run."""

    display: DisplayList
    scene: Scene
    state: State
    _queue: list[Item]

    def _take(self, what: str, **said: Any) -> None:
        plain = tuple((name, as_plain(value)) for name, value in said.items())  # a recording is JSON
        for name, value in plain:
            if name in NUMBERED and not counts(value):
                raise ValueProblem(f"{shorten(value)} is no {name}.", hint="They count from 0.")
        self._queue.append(Item(self.state.frame + 1, what, plain))

    def come_in(self, item: Item) -> None:
        """Has something of a recording be handled at the next step."""
        self._queue.append(item)

    def _place(self, x: float, y: float) -> dict[str, float]:
        try:
            found = abs(x) <= 1e9 and abs(y) <= 1e9
        except TypeError:
            found = False
        if not found:
            raise ValueProblem(
                f"{shorten(x)}, {shorten(y)} is no place for a pointer.", hint="Give finite scene coordinates."
            )
        px, py = self.display.across((x, y))
        return {"x": px, "y": py}

    def pointer_move(self, x: float, y: float, pointer: int = 1, kind: str = "mouse", pressure: float = 0.0) -> None:
        """A pointer is at a place in the scene's coordinates. `kind` is mouse, pen or touch."""
        said = self._place(x, y)
        extra = {"pressure": pressure} if pressure else {}
        self._take("move", pointer=pointer, kind=kind, **said, **extra)

    def pointer_down(self, x: float, y: float, button: int = 0, pointer: int = 1, kind: str = "mouse") -> None:
        """A button goes down, or a pen or finger touches."""
        self._take("down", pointer=pointer, kind=kind, button=button, **self._place(x, y))

    def pointer_up(self, x: float, y: float, button: int = 0, pointer: int = 1, kind: str = "mouse") -> None:
        """A button comes up, or a pen or finger is lifted."""
        self._take("up", pointer=pointer, kind=kind, button=button, **self._place(x, y))

    def pointer_leave(self, pointer: int = 1) -> None:
        """A pointer leaves the scene."""
        self._take("leave", pointer=pointer)

    def pointer_cancel(self, pointer: int = 1) -> None:
        """The system takes a pointer away."""
        self._take("cancel", pointer=pointer)

    def click(self, x: float, y: float, pointer: int = 1) -> None:
        """A move, a press and a release at one place."""
        self.pointer_move(x, y, pointer)
        self.pointer_down(x, y, 0, pointer)
        self.pointer_up(x, y, 0, pointer)

    def wheel(self, x: float, y: float, dy: float, dx: float = 0.0) -> None:
        """A wheel turns over a place, by px."""
        self._take("wheel", dx=dx, dy=dy, **self._place(x, y))

    def key_down(self, key: str) -> None:
        """A key goes down, by its W3C name: "a", "ArrowLeft", " "."""
        self._take("keydown", key=key)

    def key_up(self, key: str) -> None:
        """A key comes up."""
        self._take("keyup", key=key)

    def focus(self, shape: Shape | str) -> None:
        """Lets a shape hear the keys, or for "" only the scene."""
        self._take("focus", target=shape if isinstance(shape, str) else shape.id)

    def happen(self, name: str, values: Mapping[str, Any] | None = None) -> None:
        """A named event happens, as if a response had emitted it. Raises ValueProblem for what can't be a name."""
        if not name.isidentifier():
            raise ValueProblem(f"{shorten_name(name)} is not a name.", hint="A name is letters, digits and _.")
        self._take("emit", name=name, values=dict(values or {}))

    def try_response(self, shape: Shape | str, number: int) -> None:
        """Does what one response of a shape says, as if it had happened in the middle of the shape."""
        self._take("try", target=shape if isinstance(shape, str) else shape.id, number=number)

    @property
    def inputs(self) -> MutableMapping[str, Any]:
        """The inputs as the run has them; what is set here is the run's, and takes effect with the next step."""
        return _RunInputs(self)

    def set_input(self, name: str, value: Any) -> None:
        """Sets an input of the run. Raises ValueProblem for a value that it can't have."""
        value = self.scene.inputs.worked_out(name).read(value)
        self._take("input", name=name, value=value)


class _RunInputs(MutableMapping[str, Any]):
    """The inputs of a run by name."""

    def __init__(self, live: Incoming) -> None:
        self._live = live

    def __getitem__(self, name: str) -> Any:
        self._live.scene.inputs.spec(name)
        return self._live.display.input(name)

    def __setitem__(self, name: str, value: Any) -> None:
        self._live.set_input(name, value)

    def __delitem__(self, name: str) -> None:
        raise ValueProblem("a run can't lose an input.", hint=nearest(name, self._live.scene.inputs))

    def __iter__(self) -> Iterator[str]:
        return iter(self._live.scene.inputs)

    def __len__(self) -> int:
        return len(self._live.scene.inputs)
