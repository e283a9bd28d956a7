"""Pointers and keys: from what came in to events at shapes, as W3C Pointer Events 3 and UI Events say.

The way of an event is the shape that is hit, the groups around it, and the scene. Enter and leave go to each shape
that a pointer comes onto or goes off, groups included, and always in pairs.
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

from chalcedon.live.events import Item
from chalcedon.live.state import Pointer
from chalcedon.scene.shape import Shape

if TYPE_CHECKING:
    from chalcedon.live.live import Live

SLOP = 4.0
"""Px that a pointer may move between down and up without it being a drag."""
TWICE = 0.5
"""Seconds within which a second click makes a double click."""


class Pointing:
    """Dispatches what pointers and keys do."""

    def __init__(self, live: Live) -> None:
        self._live = live

    def handle(self, item: Item) -> None:
        """Does all that one thing that came in leads to."""
        getattr(self, f"_{item.what}")(item)

    def pointer(self, id: int, kind: str = "mouse") -> Pointer:
        """A pointer by its number."""
        return self._live.state.pointers.setdefault(id, Pointer(id, kind))

    # pointers

    def _take(self, item: Item) -> Pointer:
        pointer = self.pointer(item.get("pointer", 1), item.get("kind", "mouse"))
        pointer.x, pointer.y = item.get("x", pointer.x), item.get("y", pointer.y)
        pointer.pressure = item.get("pressure", 0.5 if pointer.buttons else 0.0)
        pointer.inside = True
        state = self._live.state
        leading = state.pointers.get(state.leading)
        if leading is None or not leading.buttons:
            state.leading = pointer.id
        return pointer

    def _move(self, item: Item) -> None:
        before = self.pointer(item.get("pointer", 1), item.get("kind", "mouse"))
        x, y, was_inside = before.x, before.y, before.inside
        pointer = self._take(item)
        dx, dy = (pointer.x - x, pointer.y - y) if was_inside else (0.0, 0.0)
        self.look(pointer)
        self._send("move", pointer, dx=dx, dy=dy)
        if pointer.drag:
            self._drag(pointer, dx, dy)

    def _down(self, item: Item) -> None:
        pointer = self._take(item)
        self.look(pointer)
        button = item.get("button", 0)
        if pointer.buttons == 0:
            pointer.down_x, pointer.down_y = pointer.x, pointer.y
            pointer.down_path = pointer.path
            pointer.drag = self._draggable(pointer.path)
            pointer.dragging = False
            if pointer.kind == "touch" or pointer.drag:
                pointer.captured = pointer.drag or (pointer.path[0] if pointer.path else "")
            self._focus_on(pointer.path)
        pointer.buttons |= 1 << button
        pointer.pressure = item.get("pressure", 0.5)
        self._tell_moment()
        self._send("down", pointer, button=button)

    def _up(self, item: Item) -> None:
        pointer = self._take(item)
        button = item.get("button", 0)
        if not pointer.buttons & (1 << button):
            return  # it came down elsewhere
        pointer.buttons &= ~(1 << button)
        pointer.pressure = 0.0
        if not pointer.captured:
            self.look(pointer)
        self._tell_moment()
        self._send("up", pointer, button=button)
        if pointer.buttons:
            return
        dragged = pointer.dragging
        if dragged:
            self._send("dragend", pointer, target=pointer.drag)
        pointer.captured = pointer.drag = ""
        pointer.dragging = False
        self.look(pointer)
        if not dragged:
            self._click(pointer, button)
        self._tell_moment()
        if pointer.kind == "touch":
            self._gone(pointer)

    def _click(self, pointer: Pointer, button: int) -> None:
        """A click goes to what is around both where it went down and where it came up (UI Events, section 3.5)."""
        up = {*pointer.path}
        target = next((id for id in pointer.down_path if id in up), "")
        far = math.hypot(pointer.x - pointer.down_x, pointer.y - pointer.down_y) > SLOP
        if button != 0 or (far and target != (pointer.down_path[0] if pointer.down_path else "")):
            return
        live = self._live
        frame, x, y = pointer.clicked_at
        soon = (live.state.frame - frame) <= live.frames(TWICE)
        near = math.hypot(pointer.x - x, pointer.y - y) <= SLOP
        pointer.clicks = pointer.clicks + 1 if soon and near else 1
        pointer.clicked_at = live.state.frame, pointer.x, pointer.y
        self._send("click", pointer, target=target)
        if pointer.clicks % 2 == 0:
            self._send("dblclick", pointer, target=target)

    def _wheel(self, item: Item) -> None:
        pointer = self._take(item)
        self.look(pointer)
        self._send("wheel", pointer, dx=item.get("dx", 0.0), dy=item.get("dy", 0.0))

    def _leave(self, item: Item) -> None:
        self._gone(self.pointer(item.get("pointer", 1)))

    def _cancel(self, item: Item) -> None:
        """The system took the pointer away: what was pressed is let go, without a click."""
        pointer = self.pointer(item.get("pointer", 1))
        if pointer.dragging:
            self._send("dragend", pointer, target=pointer.drag)
        pointer.buttons, pointer.captured, pointer.drag, pointer.dragging = 0, "", "", False
        self._gone(pointer)

    def _gone(self, pointer: Pointer) -> None:
        pointer.inside = False
        if not pointer.captured:
            self._onto(pointer, ())
        self._tell_moment()

    def look(self, pointer: Pointer) -> None:
        """Finds what a pointer is on, and tells what it went off and came onto."""
        if not pointer.inside and not pointer.captured:
            path: tuple[str, ...] = ()
        elif pointer.captured and pointer.captured in self._live.scene:
            path = self._around(self._live.scene[pointer.captured])
        else:
            path = self.path_at(pointer.x, pointer.y)
        self._onto(pointer, path)

    def path_at(self, x: float, y: float) -> tuple[str, ...]:
        """The shape at a place in px of the page, and the groups around it; empty where there is none."""
        hits = self._live.tester.hit_test(x, y, first=True)
        return self._around(hits[0].shape) if hits else ()

    def _around(self, shape: Shape) -> tuple[str, ...]:
        path = [shape.id]
        parent = shape.parent
        while parent is not None and parent.id:
            path.append(parent.id)
            parent = parent.parent
        return tuple(path)

    def _onto(self, pointer: Pointer, path: tuple[str, ...]) -> None:
        old = pointer.path
        if old == path:
            return
        pointer.path = path
        self._tell_moment()
        was, now = (old[0] if old else ""), (path[0] if path else "")
        if was and was != now:
            self._send("out", pointer, target=was, path=old)
        for id in old:  # from the inside out
            if id not in path:
                self._send("leave", pointer, target=id, path=(id,))
        if now and was != now:
            self._send("over", pointer)
        for id in reversed(path):  # from the outside in
            if id not in old:
                self._send("enter", pointer, target=id, path=(id,))

    def _send(self, name: str, pointer: Pointer, *, target: str | None = None, path: Any = None, **said: Any) -> None:
        live = self._live
        if target is None:
            target = pointer.path[0] if pointer.path else ""
        if path is None:
            shape = live.scene.get(target) if target else None
            path = self._around(shape) if shape is not None else ()
        x, y = live.display.across((pointer.x, pointer.y))
        if live.upward and said.get("dy"):
            said["dy"] = -said["dy"]
        live.send(
            name,
            target,
            (*path, "") if name not in ("enter", "leave") else path,
            x=x,
            y=y,
            buttons=pointer.buttons,
            pointer=pointer.id,
            kind=pointer.kind,
            pressure=pointer.pressure,
            **said,
        )

    def _tell_moment(self) -> None:
        self._live.changed = True

    # dragging

    def _draggable(self, path: tuple[str, ...]) -> str:
        for id in path:
            shape = self._live.scene[id]
            if shape.dragging != "none":
                return id
        return ""

    def _drag(self, pointer: Pointer, dx: float, dy: float) -> None:
        live = self._live
        if pointer.drag not in live.scene:
            pointer.drag = pointer.captured = ""
            return
        if not pointer.dragging:
            if math.hypot(pointer.x - pointer.down_x, pointer.y - pointer.down_y) <= SLOP:
                return
            pointer.dragging = True
            live.dragging.begin(pointer)
            self._tell_moment()
            self._send("dragstart", pointer, target=pointer.drag)
        live.guarded(lambda: live.dragging.go_on(pointer), pointer.drag, "drag")
        self._send("drag", pointer, target=pointer.drag, dx=dx, dy=dy)

    # keys and focus

    def _keydown(self, item: Item) -> None:
        live, key = self._live, item.get("key")
        if key not in live.state.keys:
            live.state.keys = (*live.state.keys, key)
        self._tell_moment()
        self._key("keydown", key)

    def _keyup(self, item: Item) -> None:
        live, key = self._live, item.get("key")
        live.state.keys = tuple(k for k in live.state.keys if k != key)
        self._tell_moment()
        self._key("keyup", key)

    def _key(self, name: str, key: str) -> None:
        live = self._live
        shape = live.scene.get(live.state.focus) if live.state.focus else None
        path = () if shape is None else self._around(shape)
        live.send(name, shape.id if shape is not None else "", (*path, ""), key=key)

    def _focus(self, item: Item) -> None:
        self.focus(item.get("target", ""))

    def focus(self, id: str) -> None:
        """Lets a shape, or for "" the scene, hear the keys."""
        live = self._live
        old = live.state.focus
        if id == old:
            return
        live.state.focus = id
        if old:
            live.send("blur", old, (old,))
        if id:
            live.send("focus", id, (id,))

    def _focus_on(self, path: tuple[str, ...]) -> None:
        """A press puts the focus on the innermost shape that listens to keys."""
        live = self._live
        self.focus(next((id for id in path if live.listens(id)), ""))
